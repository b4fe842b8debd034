package strict

import (
	"encoding/json"
	"fmt"
	"reflect"
	"slices"
	"strings"
	"time"
	"unicode/utf8"
)

func (r *reader) text(v reflect.Value, l *limits) bool {
	quoted, escaped, ok := r.scanText()
	if !ok {
		return false
	}
	if l != nil && !escaped {
		for _, e := range l.enum {
			if quoted[1:len(quoted)-1] == e {
				v.SetString(e)
				return true
			}
		}
	}
	s, ok := r.unquote(quoted, escaped)
	if !ok {
		return false
	}
	if wrong := l.wrongText(s, escaped); wrong != "" {
		r.report("%s", wrong)
	}
	v.SetString(s)
	return true
}

func (l *limits) wrongText(s string, escaped bool) string {
	if l == nil {
		l = &limits{maxLen: maxText}
	}
	// Only an escape can bring a control character in.
	if escaped && strings.ContainsFunc(s, func(c rune) bool { return c < ' ' && c != '\n' && c != '\t' }) {
		return "holds a control character"
	}
	switch {
	case l.enum != nil && !slices.Contains(l.enum, s):
		return fmt.Sprintf("%.40q is not one of %s", s, strings.Join(l.enum, ", "))
	case len(s) < l.minLen:
		return "must not be empty"
	case len(s) > l.maxLen && utf8.RuneCountInString(s) > l.maxLen:
		return fmt.Sprintf("longer than %d characters", l.maxLen)
	case l.id && !isID(s):
		return fmt.Sprintf("%.40q is not an id: lower-case letters, digits and hyphens, at most 64", s)
	case l.date && !isDate(s):
		return fmt.Sprintf("%.40q is not a date such as 2026-03-14", s)
	case l.moment && !isMoment(s):
		return fmt.Sprintf("%.40q is not a time such as 2026-03-14T09:30:00Z", s)
	case l.pattern != nil && !l.pattern.MatchString(s):
		return fmt.Sprintf("%.40q does not match %s", s, l.pattern)
	}
	return ""
}

// Date reads a day written 2026-03-14; ok is false for anything else and for a day
// that is not in its month.
func Date(s string) (day time.Time, ok bool) {
	if len(s) != len(time.DateOnly) || s[4] != '-' || s[7] != '-' {
		return time.Time{}, false
	}
	var n [3]int
	for i, part := range [3]string{s[:4], s[5:7], s[8:]} {
		for j := range len(part) {
			if part[j] < '0' || part[j] > '9' {
				return time.Time{}, false
			}
			n[i] = n[i]*10 + int(part[j]-'0')
		}
	}
	// A day that is not in its month comes out as another one.
	day = time.Date(n[0], time.Month(n[1]), n[2], 0, 0, 0, 0, time.UTC)
	return day, day.Day() == n[2] && day.Month() == time.Month(n[1])
}

func isDate(s string) bool {
	_, ok := Date(s)
	return ok
}

// isMoment reports whether a text is a time of RFC 3339 with its offset.
func isMoment(s string) bool {
	_, err := time.Parse(time.RFC3339Nano, s)
	return err == nil
}

func isID(s string) bool {
	for i := range len(s) {
		c := s[i]
		if (c < 'a' || c > 'z') && (c < '0' || c > '9') && (c != '-' || i == 0) {
			return false
		}
	}
	return len(s) >= 1 && len(s) <= 64
}

// scanText passes over a JSON string and gives it with its quotes.
func (r *reader) scanText() (quoted string, escaped, ok bool) {
	rest := r.data[r.pos:]
	for i := 1; i < len(rest); i++ {
		switch c := rest[i]; {
		case c == '"':
			r.pos += i + 1
			return rest[:i+1], escaped, true
		case c == '\\':
			escaped = true
			i++
		case c < ' ':
			r.pos += i
			return "", false, r.fail("text holds a control character")
		}
	}
	return "", false, r.fail("text does not end")
}

func (r *reader) unquote(quoted string, escaped bool) (string, bool) {
	if !r.valid && !utf8.ValidString(quoted) {
		return "", r.fail("text is not UTF-8")
	}
	if !escaped {
		return quoted[1 : len(quoted)-1], true
	}
	var s string
	if err := json.Unmarshal([]byte(quoted), &s); err != nil {
		return "", r.fail("text holds an unknown escape")
	}
	return s, true
}
