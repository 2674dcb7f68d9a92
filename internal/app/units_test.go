package app_test

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"testing"
)

// On paper a US kitchen reads ounces and Fahrenheit, a metric one grams and Celsius: run sheet, batch card and quote.
// The other stands in brackets, if anywhere.
func TestPaperHasOneSystemOfUnits(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	brackets := regexp.MustCompile(`\([^()]*\)`)
	foreign := map[string]*regexp.Regexp{"us": regexp.MustCompile(`[0-9]\s?(g|kg|mL|cm|mm|°C)\b`),
		"metric": regexp.MustCompile(`[0-9]\s(oz|lb|cups?|tbsp|tsp|°F)\b`)}
	own := map[string]*regexp.Regexp{"us": regexp.MustCompile(`[0-9] (oz|lb)\b`),
		"metric": regexp.MustCompile(`[0-9] (g|kg)\b`)}
	o := p.must(201, "POST", "/orders", p.draft("Cardamom-malt bombs", 24))
	p.move(200, o["id"], "quoted")
	quote := p.must(201, "POST", fmt.Sprint("/orders/", o["id"], "/quotes"), nil)["quote"].(object)["token"]
	for units := range foreign {
		kitchen := p.must(200, "GET", "/kitchen", nil)
		p.must(200, "PUT", "/kitchen", with(kitchen, object{"units": units,
			"degrees": map[string]string{"us": "F", "metric": "C"}[units]}), "If-Match", p.tag("/kitchen"))
		for path, masses := range map[string]bool{"/days/2026-09-05/run-sheet.pdf": true,
			fmt.Sprint("/treats/", p.treat("Cardamom-malt bombs"), "/batch-card.pdf?amount=24&as=pieces"): true,
			fmt.Sprint("/quotes/", quote, "/quote.pdf"):                                                   false} {
			a := p.send("GET", path, nil)
			if a.status != 200 {
				t.Fatalf("%s: %d %s", path, a.status, a.body)
			}
			file := filepath.Join(t.TempDir(), "paper.pdf")
			if err := os.WriteFile(file, []byte(a.body), 0o600); err != nil {
				t.Fatal(err)
			}
			text, err := exec.Command("pdftotext", file, "-").Output() // as it flows: brackets stay together
			if err != nil {
				t.Fatal(err)
			}
			read := brackets.ReplaceAllString(regexp.MustCompile(`\s+`).ReplaceAllString(string(text), " "), "")
			if wrong := foreign[units].FindAllString(read, -1); len(wrong) > 0 {
				t.Errorf("%s on %s: %q in %s", units, path, wrong, read)
			}
			if masses && !own[units].MatchString(read) {
				t.Errorf("%s on %s: no mass in %s", units, path, read)
			}
		}
	}
}
