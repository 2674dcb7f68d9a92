package core

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"
)

// files of core that are not tests, parsed.
func files(t *testing.T, mode parser.Mode, each func(path string, f *ast.File)) {
	t.Helper()
	seen := 0
	err := filepath.WalkDir(".", func(path string, d fs.DirEntry, err error) error {
		if err != nil || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return err
		}
		seen++
		parsed, err := parser.ParseFile(token.NewFileSet(), path, nil, mode)
		if err == nil {
			each(path, parsed)
		}
		return err
	})
	if err != nil || seen < 10 {
		t.Fatalf("looked at %d files: %v", seen, err)
	}
}

// The rules know nothing above them: only the standard library, the decimal package and each other; and of the standard
// library nothing that reads, waits or talks.
func TestCoreImports(t *testing.T) {
	files(t, parser.ImportsOnly, func(path string, f *ast.File) {
		for _, spec := range f.Imports {
			name, err := strconv.Unquote(spec.Path.Value)
			if err != nil {
				t.Fatal(err)
			}
			standard := !strings.Contains(strings.Split(name, "/")[0], ".") && !strings.HasPrefix(name, "zestytin/")
			outside := strings.HasPrefix(name, "os") || strings.HasPrefix(name, "net/http") ||
				strings.HasPrefix(name, "database") || strings.HasPrefix(name, "io") || name == "sync" || name == "log"
			if standard && !outside || strings.HasPrefix(name, "zestytin/core/") ||
				name == "github.com/shopspring/decimal" {
				continue
			}
			t.Errorf("%s imports %s", path, name)
		}
	})
}

// How a field stands in the API's document is the server's: core has tags for the formats that it reads and writes,
// nothing else.
func TestCoreHasNoTagsOfTheAPI(t *testing.T) {
	tag := regexp.MustCompile(`(\w+):"`)
	files(t, 0, func(path string, f *ast.File) {
		ast.Inspect(f, func(n ast.Node) bool {
			if field, ok := n.(*ast.Field); ok && field.Tag != nil {
				for _, m := range tag.FindAllStringSubmatch(field.Tag.Value, -1) {
					if m[1] != "json" {
						t.Errorf("%s: %s has a tag for %s", path, field.Names, m[1])
					}
				}
			}
			return true
		})
	})
}

// Core gives reasons by code and leaves sentences to whoever speaks the language: no text that a person would read
// stands in it. What a file format has always held does.
func TestCoreSaysNothing(t *testing.T) {
	kept := map[string]bool{
		"plan/problem.go": true, // version 1 of a plan says in words why a batch is left out
	}
	sentence := regexp.MustCompile(`^[A-Z“%"].* .* .*[.?!:]$`)
	files(t, 0, func(path string, f *ast.File) {
		ast.Inspect(f, func(n ast.Node) bool {
			if lit, ok := n.(*ast.BasicLit); ok && lit.Kind == token.STRING && !kept[path] {
				if text, err := strconv.Unquote(lit.Value); err == nil && sentence.MatchString(text) {
					t.Errorf("%s says %q", path, text)
				}
			}
			return true
		})
	})
}
