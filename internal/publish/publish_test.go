package publish_test

import (
	"bytes"
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"testing"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/publish"
)

// Figures of the examples are held to seven digits: the last ones depend on how
// a processor rounds.
var digits = regexp.MustCompile(`-?\d+\.\d{7,}`)

func shorten(figure []byte) []byte {
	f, err := strconv.ParseFloat(string(figure), 64)
	if err != nil {
		return figure
	}
	return strconv.AppendFloat(nil, f, 'g', 7, 64)
}

// The kept files are what the code would write now.
func TestKeptFilesAreFresh(t *testing.T) {
	files, err := publish.Files("../..")
	if err != nil {
		t.Fatal(err)
	}
	for path, want := range files {
		got, err := os.ReadFile(filepath.Join("../..", path))
		if err != nil || !bytes.Equal(digits.ReplaceAllFunc(got, shorten), digits.ReplaceAllFunc(want, shorten)) {
			t.Errorf("%s is stale (make generate): %v", path, err)
		}
	}
	if _, err := drop.Read(files["docs/formats/drop.example.json"]); err != nil {
		t.Errorf("the example is refused: %v", err)
	}
}
