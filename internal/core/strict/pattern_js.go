package strict

import "syscall/js"

// pattern is a regular expression that a text must match. A browser has an engine of its own,
// and the library's would be a twentieth of what it fetches. Patterns are those that both read
// alike: literals, classes, groups and counts between ^ and $.
type pattern struct {
	text   string
	engine js.Value
}

func compile(p string) *pattern { return &pattern{p, js.Global().Get("RegExp").New(p, "u")} }

func (p *pattern) MatchString(s string) bool { return p.engine.Call("test", s).Bool() }

func (p *pattern) String() string { return p.text }
