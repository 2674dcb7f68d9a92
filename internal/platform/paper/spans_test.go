package paper

import (
	"bytes"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"zestytin/core/label"
)

// readBack the text of a PDF with poppler, an independent reader.
func readBack(t *testing.T, pdf []byte) string {
	t.Helper()
	file := filepath.Join(t.TempDir(), "page.pdf")
	if err := os.WriteFile(file, pdf, 0o600); err != nil {
		t.Fatal(err)
	}
	out, err := exec.Command("pdftotext", "-layout", file, "-").Output()
	if err != nil {
		t.Fatal(err)
	}
	return string(out)
}

// How Unicode Standard Annex 9 orders what is written from the right, and in which of its forms (Unicode Standard,
// Arabic Presentation Forms-B) each Arabic letter stands; by hand.
func TestSpans(t *testing.T) {
	for text, want := range map[string]string{
		"Ana Quay":            "Ana Quay",
		"Ana שלום דוד 12":     "Ana דוד םולש 12",
		"שלום Ana":            "Ana םולש",
		"محمد":                "\uFEAA\uFEE4\uFEA4\uFEE3", // dal final, meem medial, hah medial, meem initial
		"for محمد, דוד.":      "for דוד ,\uFEAA\uFEE4\uFEA4\uFEE3.",
		"لا":                  "\uFEFB", // lam and alef are one
		"cafe\u0301":          "café",
		"two\u00a0words":      "two words",
		"Ana ☃ 🍫":             "Ana ☃ ?",
		"Ανα Ана Żaneta Linh": "Ανα Ана Żaneta Linh",
	} {
		var got strings.Builder
		for _, s := range Letters().spans(text) {
			got.WriteString(s.text)
		}
		if strings.TrimSpace(got.String()) != want {
			t.Errorf("%s: %q, want %q", text, got.String(), want)
		}
	}
	for text, want := range map[string]rune{"Ana": 0, "דוד محمد": 0, "王芳 さくら 지우": 0, "☃ ♥": 0, "🍫": '🍫', "ᚠ": 'ᚠ', "สวัสดี": 'ส'} {
		if got := Letters().Lacks(text); got != want {
			t.Errorf("%s lacks %q", text, got)
		}
	}
}

// Every letter of a page is read back, on a label and on a sheet, in whatever script it is; what no font has is told.
func TestLettersOfManyScripts(t *testing.T) {
	names := []string{"Nguyễn Thị Hoa", "Żółć", "Ольга", "Ελένη", "王芳", "さくら", "지우", "Հայկ", "Sütçü"}
	var tags []*label.Fitted
	sheet := label.Sheet{Width: 210, Height: 297, Columns: 3, Rows: 8, Long: 63.5, High: 33, Left: 7, Top: 13,
		PitchX: 66, PitchY: 33.9}
	for _, n := range names {
		f, err := label.Tag(n, "", sheet.Long, sheet.High, Letters())
		if err != nil {
			t.Fatal(n, err)
		}
		tags = append(tags, f)
	}
	places, err := sheet.Places(1, len(tags))
	if err != nil {
		t.Fatal(err)
	}
	pdf, err := Tags("Tags", sheet.Width, sheet.Height, places, tags)
	if err != nil {
		t.Fatal(err)
	}
	read := readBack(t, pdf)
	s := New("Order of 王芳", "for "+strings.Join(names, ", "))
	s.Part("דוד", strings.Join(names, " and "), "Ana 🍫")
	if pdf, err = s.Bytes(func(lacking string) string { return "Not printed: " + lacking }); err != nil {
		t.Fatal(err)
	}
	page := readBack(t, pdf)
	for _, n := range names {
		for _, word := range strings.Fields(n) { // a tag has two lines
			if !strings.Contains(read, word) {
				t.Errorf("%s is not on its tag:\n%s", n, read)
			}
		}
		if strings.Count(strings.Join(strings.Fields(page), " "), n) < 2 {
			t.Errorf("%s is not on the page:\n%s", n, page)
		}
	}
	for _, want := range []string{"דוד", "Ana ?", "Not printed: U+1F36B"} {
		if !strings.Contains(page, want) {
			t.Errorf("%q is not on the page:\n%s", want, page)
		}
	}
	// Without other scripts no other fonts are in the file.
	plain, err := New("Ana", "Quay").Bytes(nil)
	if err != nil || bytes.Contains(plain, []byte("dejavu")) || len(plain) > 60_000 {
		t.Errorf("%d bytes, %v", len(plain), err)
	}
}

func TestLinesOfAParagraph(t *testing.T) {
	s := New("Title", "")
	s.Set("", 10)
	for text, want := range map[string]int{"": 1, "one": 1, "one\ntwo": 2, strings.Repeat("word ", 60): 5,
		strings.Repeat("王", 60): 2, strings.Repeat("x", 200): 3} {
		if got := s.pen.lines(text, 120); len(got) != want || strings.ReplaceAll(strings.Join(got, ""), " ", "") !=
			strings.NewReplacer(" ", "", "\n", "").Replace(text) {
			t.Errorf("%q: %d lines %q", text, len(got), got)
		}
		for _, line := range s.pen.lines(text, 120) {
			if w := s.pen.wide(line); w > 120 {
				t.Errorf("a line of %v", w)
			}
		}
	}
}
