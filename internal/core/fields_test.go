package core_test

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"maps"
	"path/filepath"
	"slices"
	"strings"
	"testing"
)

// unread are the fields of documents that nothing in the core reads, by why.
var unread = map[string]string{
	"for people who look for it":                                                 `Marking`,
	"words, a picture or a comparison of models":                                 `AnchorSign ButtonToMove ControlEdge Cue EasyPath Fails Mend Phones SecondPost Sewn Shape Sign TopName`,
	"a comparison's own answer":                                                  `Differs`,
	"the server's: who may check a plan alone":                                   `CheckedAlone`,
	"no reeving ends at a becket, and a pulley of several sheaves counts as one": `BecketKN Sheaves`,
}

// Whatever somebody enters of gear, a rig or a policy is read by something that computes or
// judges: a field that only screens, exercises and comparisons show is listed, with why.
func TestFieldsAreRead(t *testing.T) {
	fields, read := map[string]string{}, map[string]bool{}
	files := token.NewFileSet()
	err := filepath.WalkDir(".", func(path string, d fs.DirEntry, err error) error {
		dir, file := filepath.Split(path)
		dir = filepath.Clean(dir)
		if err != nil || !strings.HasSuffix(file, ".go") || strings.HasSuffix(file, "_test.go") || dir == "drill" {
			return err
		}
		f, err := parser.ParseFile(files, path, nil, 0)
		if err != nil {
			return err
		}
		ast.Inspect(f, func(n ast.Node) bool {
			switch n := n.(type) {
			case *ast.StructType:
				for _, of := range n.Fields.List {
					if of.Tag == nil || !slices.Contains([]string{"gear", "rig", "policy"}, dir) {
						continue
					}
					for _, name := range of.Names {
						fields[name.Name] = path
					}
				}
			case *ast.SelectorExpr:
				read[n.Sel.Name] = read[n.Sel.Name] || !slices.Contains([]string{"gear/validate.go", "gear/compare.go"}, path)
			}
			return true
		})
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
	why := map[string]string{}
	for reason, list := range unread {
		for _, name := range strings.Fields(list) {
			why[name] = reason
		}
	}
	for _, name := range slices.Sorted(maps.Keys(fields)) {
		if read[name] == (why[name] != "") {
			t.Errorf("%s of %s: read %v, listed as unread since %q", name, fields[name], read[name], why[name])
		}
	}
	if len(fields) < 200 {
		t.Errorf("the scan found %d fields, fewer than there are", len(fields))
	}
}
