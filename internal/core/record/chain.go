package record

import (
	"crypto/sha256"
	"encoding/binary"
	"encoding/hex"
	"fmt"
	"time"
)

// UUID is the sixteen bytes of an id.
type UUID = [16]byte

// Seal is the SHA-256 over a record and the seal of the one before it.
type Seal [sha256.Size]byte

// String gives the first four bytes, for people to compare.
func (s Seal) String() string { return hex.EncodeToString(s[:4]) }

// Whole gives all of it.
func (s Seal) Whole() string { return hex.EncodeToString(s[:]) }

// A Record is one thing that was done, signed and sealed. Numbers of a team's
// records begin with 1 and have no gaps.
type Record struct {
	Team   UUID
	Number int64
	ID     UUID
	Kind   Kind
	// By is the account that was signed in, ByName its name then.
	By     UUID
	ByName string
	// At is the server's time, in whole microseconds.
	At time.Time
	// Content is what the record says: a Content as JSON, byte for byte as kept.
	Content []byte
	Seal    Seal
}

// mark begins what is sealed, so that a later way of sealing is distinguished.
const mark = "zealousknot record 1\n"

// A Chain follows a team's records from the first on. The zero Chain with its
// Team set stands before the first.
type Chain struct {
	Team UUID
	// Number and Last are of the last record that was added.
	Number int64
	Last   Seal

	buffer []byte
}

// Break is where a chain is broken first.
type Break struct {
	Number int64
	Why    string
}

func (b *Break) Error() string { return fmt.Sprintf("record %d: %s", b.Number, b.Why) }

// Close gives a record its number and its seal, as the next of the chain.
func (c *Chain) Close(r *Record) {
	r.Team, r.Number = c.Team, c.Number+1
	r.Seal = c.seal(r)
	c.Number, c.Last = r.Number, r.Seal
}

// Follow checks that a record is the next of the chain and is as it was sealed;
// otherwise it gives a *Break and the chain stays where it was.
func (c *Chain) Follow(r *Record) error {
	switch {
	case r.Number != c.Number+1:
		return &Break{c.Number + 1, fmt.Sprintf("is missing; the next that is there is %d", r.Number)}
	case r.Team != c.Team:
		return &Break{r.Number, "is another team's"}
	case c.seal(r) != r.Seal:
		return &Break{r.Number, "is not as it was sealed, or does not follow the one before it"}
	}
	c.Number, c.Last = r.Number, r.Seal
	return nil
}

// End checks that the chain ends where its end was noted.
func (c *Chain) End(number int64, last Seal) error {
	switch {
	case number > c.Number:
		return &Break{c.Number + 1, fmt.Sprintf("is missing, and all that follow up to %d", number)}
	case number < c.Number:
		return &Break{number + 1, "was added past the noted end"}
	case last != c.Last:
		return &Break{c.Number, "does not end the chain as it was noted"}
	}
	return nil
}

// seal is SHA-256 over the mark, the seal before, team, number, id, account and
// time (microseconds since 1970), each in whole width and big-endian, then kind,
// name and content, each with its length before it in eight bytes.
func (c *Chain) seal(r *Record) Seal {
	b := append(c.buffer[:0], mark...)
	b = append(b, c.Last[:]...)
	b = append(b, r.Team[:]...)
	b = binary.BigEndian.AppendUint64(b, uint64(r.Number))
	b = append(b, r.ID[:]...)
	b = append(b, r.By[:]...)
	b = binary.BigEndian.AppendUint64(b, uint64(r.At.UnixMicro()))
	b = binary.BigEndian.AppendUint64(b, uint64(len(r.Kind)))
	b = append(b, r.Kind...)
	b = binary.BigEndian.AppendUint64(b, uint64(len(r.ByName)))
	b = append(b, r.ByName...)
	b = binary.BigEndian.AppendUint64(b, uint64(len(r.Content)))
	b = append(b, r.Content...)
	c.buffer = b
	return sha256.Sum256(b)
}
