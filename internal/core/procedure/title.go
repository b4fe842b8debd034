package procedure

import (
	"strconv"
	"strings"
)

// Titles are what people read in place of a proof's id.
var Titles = map[string]string{
	"look": "looked over", "lay": "rope and connector as in the picture", "handle": "handle through its positions", "pull": "strand pulled sharply",
	"let-go": "let go under load", "over-pull": "handle pulled past work", "park": "parked, and holds",
	"rolls": "rolls both ways", "jerk": "locks when jerked", "free": "frees", "unparked": "parking lock off",
	"up": "runs up", "down": "locks downwards", "cord": "moved down by its cord", "slide": "slides by hand", "grip": "grips",
	"runs": "rope runs in", "holds": "holds when let go", "set": "lock set for the loaded side", "lifts": "lifts", "whole": "whole and in date", "parts": "parts as on its card",
	"hand": "through the hand, end to end", "knots": "knots dressed and set", "end": "lower end", "gates": "gates shut and locked",
}

// Title is what people read in place of the id of a proof. A proof that a team's own model
// brings has no title but the words of its id.
func Title(proof string) string {
	if t := Titles[proof]; t != "" {
		return t
	}
	if n, ok := strings.CutPrefix(proof, "hold-"); ok {
		if _, err := strconv.Atoi(n); err == nil {
			return "hold " + n
		}
	}
	return strings.ReplaceAll(proof, "-", " ")
}
