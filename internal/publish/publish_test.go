package publish_test

import (
	"bytes"
	"os"
	"path/filepath"
	"testing"

	"zealousknot/internal/core/drop"
	"zealousknot/internal/publish"
)

// The kept files are what the code would write now.
func TestKeptFilesAreFresh(t *testing.T) {
	files, err := publish.Files()
	if err != nil {
		t.Fatal(err)
	}
	for path, want := range files {
		got, err := os.ReadFile(filepath.Join("../..", path))
		if err != nil || !bytes.Equal(got, want) {
			t.Errorf("%s is stale (make generate): %v", path, err)
		}
	}
	if _, err := drop.Read(files["docs/formats/drop.example.json"]); err != nil {
		t.Errorf("the example is refused: %v", err)
	}
}
