package publish

import (
	"cmp"
	"fmt"
	"go/doc"
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"path"
	"slices"
	"strconv"
	"strings"
)

const module = "zealousknot/"

// part is a package of the program.
type part struct {
	path, does string
	imports    []string
}

// architecture is the table of packages, each with what its comment begins with and what of
// the program it imports.
func architecture(root string) ([]byte, error) {
	parts, err := packages(os.DirFS(root))
	if err != nil {
		return nil, err
	}
	var b strings.Builder
	b.WriteString(`# Architecture

Generated from the code by ` + "`make generate`" + `. The picture to keep: a pure core, a thin shell, one table of questions between them (` + "`internal/core/ask`" + `).
A document comes in at one door, is resolved once (` + "`site`" + `), is asked things, and answers leave at one door. Arrows point one way: a package imports
only packages above it in this table; ` + "`internal/core/arrows_test.go`" + ` holds the core to that, to the standard library and gonum, and to having no state.

| package | what it knows | imports |
| --- | --- | --- |
`)
	for _, p := range ordered(parts) {
		var of []string
		for _, i := range p.imports {
			of = append(of, strings.TrimPrefix(strings.TrimPrefix(i, "internal/"), "core/"))
		}
		fmt.Fprintf(&b, "| %s | %s | %s |\n", strings.TrimPrefix(p.path, "internal/"), p.does, strings.Join(of, ", "))
	}
	return []byte(b.String()), nil
}

// packages reads the program's packages, tests left out.
func packages(root fs.FS) ([]part, error) {
	found := map[string]*part{}
	for _, top := range []string{"internal", "cmd"} {
		err := fs.WalkDir(root, top, func(name string, _ fs.DirEntry, err error) error {
			if err != nil || path.Ext(name) != ".go" || strings.HasSuffix(name, "_test.go") || strings.Contains(name, "/testdata/") {
				return err
			}
			text, err := fs.ReadFile(root, name)
			if err != nil {
				return err
			}
			f, err := parser.ParseFile(token.NewFileSet(), name, text, parser.ImportsOnly|parser.ParseComments)
			if err != nil {
				return err
			}
			dir := path.Dir(name)
			if found[dir] == nil {
				found[dir] = &part{path: dir}
			}
			p := found[dir]
			if f.Doc != nil {
				p.does = sentence(new(doc.Package).Synopsis(f.Doc.Text()))
			}
			for _, i := range f.Imports {
				at, err := strconv.Unquote(i.Path.Value)
				if own, ok := strings.CutPrefix(at, module); err == nil && ok && !slices.Contains(p.imports, own) {
					p.imports = append(p.imports, own)
				}
			}
			return nil
		})
		if err != nil {
			return nil, err
		}
	}
	list := make([]part, 0, len(found))
	for _, p := range found {
		slices.Sort(p.imports)
		list = append(list, *p)
	}
	return list, nil
}

// ordered puts each package below all that it imports; of those that are as deep, in the
// order of their names.
func ordered(list []part) []part {
	deep := map[string]int{}
	var depth func(name string) int
	depth = func(name string) int {
		if d, ok := deep[name]; ok {
			return d
		}
		i := slices.IndexFunc(list, func(p part) bool { return p.path == name })
		if i < 0 {
			return 0
		}
		d := 0
		for _, o := range list[i].imports {
			d = max(d, depth(o)+1)
		}
		deep[name] = d
		return d
	}
	slices.SortFunc(list, func(a, b part) int {
		return cmp.Or(cmp.Compare(depth(a.path), depth(b.path)), cmp.Compare(a.path, b.path))
	})
	return list
}

// sentence is what a package comment says without the name that the table has beside it.
func sentence(synopsis string) string {
	_, said, _ := strings.Cut(strings.TrimPrefix(strings.TrimPrefix(synopsis, "Package "), "Command "), " ")
	return strings.ToUpper(said[:min(1, len(said))]) + said[min(1, len(said)):]
}
