// Command publish writes the files generated from the code. Run it from the top
// of the project: go run ./tools/publish.
package main

import (
	"fmt"
	"os"
	"path/filepath"

	"zealousknot/internal/publish"
)

func main() {
	files, err := publish.Files(".")
	for path, content := range files {
		if err == nil {
			err = os.MkdirAll(filepath.Dir(path), 0o755)
		}
		if err == nil {
			err = os.WriteFile(path, content, 0o644)
		}
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, "publish:", err)
		os.Exit(1)
	}
}
