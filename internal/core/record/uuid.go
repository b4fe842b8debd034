package record

import "encoding/hex"

// FormatUUID writes an id as text.
func FormatUUID(u UUID) string {
	h := hex.EncodeToString(u[:])
	return h[:8] + "-" + h[8:12] + "-" + h[12:16] + "-" + h[16:20] + "-" + h[20:]
}
