package paper_test

import (
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"zestytin/core/food"
	"zestytin/core/label"
	"zestytin/internal/platform/paper"
)

// A label with a code, printed, drawn by poppler as a printer of 300 dots an inch does, and read by zbar, a program
// that has nothing to do with what made it.
func TestCodesAreRead(t *testing.T) {
	words := []label.Paragraph{{Role: label.Title, Spans: []label.Span{{Text: "Milk malt bombs", Bold: true}}},
		{Role: label.Text, Spans: []label.Span{{Text: "Ingredients: milk chocolate, malt, sugar."}}}}
	least := label.LeastOf(food.LawEU, 100, 200)
	for _, c := range []struct {
		kind       paper.Code
		says, read string
	}{
		{paper.QR, "https://sweets.example/ask/marens-kitchen?n=12", "QR-Code:https://sweets.example/ask/marens-kitchen?n=12"},
		{paper.QR, " Grüße aus der Küche 🍫 ", "QR-Code:Grüße aus der Küche 🍫"},
		{paper.Lot, "L260903-7F2A", "CODE-128:L260903-7F2A"},
		// 4 006381 33393: 4+0x3+0+6x3+3+8x3+1+3x3+3+3x3+9+3x3 = 89, and 90 - 89 is 1 (GS1 General Specifications, 7.9; by
		// hand).
		{paper.EAN, "4006381333931", "EAN-13:4006381333931"},
		{paper.EAN, "9638 5074", "EAN-8:96385074"},
	} {
		symbol, err := paper.SymbolOf(c.kind, c.says)
		if err != nil {
			t.Fatal(err)
		}
		f, err := label.FitWith(words, 99, 60, least, paper.Letters(), symbol)
		if err != nil {
			t.Fatal(err)
		}
		for _, m := range f.Marks { // the code and the text stay apart, and the code stays on the label
			if m.X < 0 || m.X+m.Wide > 99 || m.Y+m.High > 60 {
				t.Errorf("%s: %+v lies beyond the label", c.read, m)
			}
			for _, r := range f.Runs {
				if r.Y > m.Y && r.X+r.Width > m.X {
					t.Fatalf("%s: %q runs into the code", c.read, r.Text)
				}
			}
		}
		pdf, err := paper.Tags("labels", 210, 297, []label.Place{{X: 20, Y: 30}}, []*label.Fitted{f})
		if err != nil {
			t.Fatal(err)
		}
		if got := zbar(t, pdf); got != c.read {
			t.Errorf("%s is read as %q", c.read, got)
		}
	}
}

func zbar(t *testing.T, pdf []byte) string {
	t.Helper()
	dir := t.TempDir()
	file := filepath.Join(dir, "a.pdf")
	if err := os.WriteFile(file, pdf, 0o600); err != nil {
		t.Fatal(err)
	}
	if out, err := exec.Command("pdftoppm", "-r", "300", "-gray", "-png", file, filepath.Join(dir, "a")).CombinedOutput(); err != nil {
		t.Fatalf("%v: %s", err, out)
	}
	pages, err := filepath.Glob(filepath.Join(dir, "a-*.png"))
	if err != nil || len(pages) != 1 {
		t.Fatalf("%v, %v", pages, err)
	}
	out, err := exec.Command("zbarimg", "--quiet", "-Sean8.enable", "-Sean13.enable", pages[0]).Output()
	if err != nil {
		t.Errorf("zbarimg: %v", err)
	}
	return strings.TrimSpace(string(out))
}

func TestWhatIsNoCode(t *testing.T) {
	for _, c := range []struct {
		kind paper.Code
		says string
		why  string
	}{{paper.QR, " ", "label.write-what-the-code-says"}, {paper.QR, strings.Repeat("é", 3000), "label.write-what"},
		{paper.Lot, "", "label.no-lot-yet"}, {paper.EAN, "4006381333932", "label.not-an-article-number"},
		{paper.EAN, "12 eggs", "label.not-an-article-number"}} {
		if _, err := paper.SymbolOf(c.kind, c.says); err == nil || !strings.HasPrefix(err.Error(), c.why) {
			t.Errorf("%s %.20q: %v", c.kind, c.says, err)
		}
	}
	symbol, err := paper.SymbolOf(paper.QR, strings.Repeat("long ", 60))
	if err != nil {
		t.Fatal(err)
	}
	least := label.LeastOf(food.LawEU, 100, 200)
	if _, err := label.FitWith(nil, 60, 30, least, paper.Letters(), symbol); err == nil || !strings.HasPrefix(err.Error(),
		"label.code-does-not-fit") {
		t.Errorf("a code of 300 letters on a small label: %v", err)
	}
}
