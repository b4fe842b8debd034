//go:build !js

package strict

import "regexp"

// pattern is a regular expression that a text must match.
type pattern = regexp.Regexp

func compile(p string) *pattern { return regexp.MustCompile(p) }
