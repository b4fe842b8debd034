package care

import (
	"errors"
	"strings"
)

// symbols are those of codes; the first 32 are used for the code itself, all 37 for its check
// symbol. Letters that look like figures are left out.
const symbols = "0123456789ABCDEFGHJKMNPQRSTVWXYZ*~$=U"

// CodeLen is how many symbols a code has, its check symbol with them.
const CodeLen = 7

// Errors of codes.
var (
	ErrNoCode  = errors.New("this is no code: six symbols and a check symbol")
	ErrMisread = errors.New("the check symbol does not fit: it was misread or mistyped")
)

// Code is the code with a number, which counts up to 32⁶: six symbols and a check symbol. The
// check symbol is the number's remainder by 37, a prime above the base: no single wrong
// symbol and no two swapped neighbours leave it as it is.
func Code(n int64) string {
	var b [CodeLen]byte
	b[CodeLen-1] = symbols[n%37]
	for i := CodeLen - 2; i >= 0; i-- {
		b[i] = symbols[n%32]
		n /= 32
	}
	return string(b[:])
}

// Codes is how many codes there are.
const Codes int64 = 1 << 30

// ReadCode reads a code as people write it, or the address on a label of any host: the last
// part of it. It gives the code as it is kept.
func ReadCode(text string) (string, error) {
	text = strings.TrimSpace(text)
	if i := strings.LastIndex(text, "/i/"); i >= 0 {
		text = text[i+3:]
	}
	text, _, _ = strings.Cut(text, "?")
	text = strings.ToUpper(strings.NewReplacer("-", "", " ", "", "%24", "$", "%2A", "*", "%3D", "=", "%7E", "~").Replace(text))
	// What is read as a figure is meant as one.
	if len(text) == CodeLen {
		text = strings.NewReplacer("O", "0", "I", "1", "L", "1").Replace(text)
	}
	if len(text) != CodeLen {
		return "", ErrNoCode
	}
	n := int64(0)
	for i := range CodeLen - 1 {
		v := strings.IndexByte(symbols[:32], text[i])
		if v < 0 {
			return "", ErrNoCode
		}
		n = n*32 + int64(v)
	}
	switch at := strings.IndexByte(symbols, text[CodeLen-1]); {
	case at < 0:
		return "", ErrNoCode
	case int64(at) != n%37:
		return "", ErrMisread
	}
	return text, nil
}
