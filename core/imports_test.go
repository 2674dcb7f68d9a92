package core

import (
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
)

// The rules know nothing above them: only the standard library, the decimal package and each other; and of the standard
// library nothing that reads, waits or talks.
func TestCoreImports(t *testing.T) {
	files := 0
	err := filepath.WalkDir(".", func(path string, d fs.DirEntry, err error) error {
		if err != nil || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return err
		}
		files++
		parsed, err := parser.ParseFile(token.NewFileSet(), path, nil, parser.ImportsOnly)
		if err != nil {
			return err
		}
		for _, spec := range parsed.Imports {
			name, err := strconv.Unquote(spec.Path.Value)
			if err != nil {
				return err
			}
			standard := !strings.Contains(strings.Split(name, "/")[0], ".") && !strings.HasPrefix(name, "zestytin/")
			outside := strings.HasPrefix(name, "os") || strings.HasPrefix(name, "net/http") || strings.HasPrefix(name, "database") || strings.HasPrefix(name, "io") || name == "sync" || name == "log"
			if standard && !outside || strings.HasPrefix(name, "zestytin/core/") || name == "github.com/shopspring/decimal" {
				continue
			}
			t.Errorf("%s imports %s", path, name)
		}
		return nil
	})
	if err != nil || files < 10 {
		t.Fatalf("looked at %d files: %v", files, err)
	}
}
