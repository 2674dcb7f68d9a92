package app_test

import (
	"fmt"
	"math"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"zestytin/core/label"
)

// word of a printed page and where it stands, in mm from its upper left corner.
type word struct {
	page int
	x, y float64
	text string
}

// wordsOf a PDF, as poppler reads it.
func wordsOf(t *testing.T, pdf string) (words []word, pages [][2]float64) {
	t.Helper()
	cmd := exec.Command("pdftotext", "-bbox", "-", "-")
	cmd.Stdin = strings.NewReader(pdf)
	out, err := cmd.Output()
	if err != nil {
		t.Fatalf("pdftotext: %v", err)
	}
	number := func(s string) float64 { x, _ := strconv.ParseFloat(s, 64); return x * 25.4 / 72 }
	for _, m := range regexp.MustCompile(`<page width="([\d.]+)" height="([\d.]+)">|<word xMin="([\d.]+)" yMin="[\d.]+" xMax="[\d.]+" yMax="([\d.]+)">([^<]*)</word>`).FindAllStringSubmatch(string(out), -1) {
		if m[1] != "" {
			pages = append(pages, [2]float64{number(m[1]), number(m[2])})
			continue
		}
		words = append(words, word{len(pages) - 1, number(m[3]), number(m[4]), m[5]})
	}
	return words, pages
}

// Labels of an order tell what is in it, its net weight, when it was really made and in which lot; they are printed
// where the sheet has them, within 0.2 mm, beginning with the label that is free.
func TestLabels(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	o := p.must(201, "POST", "/orders", with(p.draft("A dozen strawberries, three ways", 12), object{"customer": "Label Lou"}))
	path := fmt.Sprint("/orders/", o["id"], "/labels")
	of := func(query string) object {
		return p.must(200, "GET", path+query, nil)["labels"].([]any)[0].(object)
	}
	if l := of("?sheet=a4-8"); l["until"] != nil || !strings.Contains(fmt.Sprint(l["care"]), "promised") {
		t.Errorf("of a request: %v", l["care"])
	}
	if res := p.send("GET", path+".pdf?sheet=a4-8", nil); res.status != 409 {
		t.Errorf("labels of a request are printed: %d", res.status)
	}
	p.move(200, o["id"], "promised")
	l := of("?sheet=a4-8")
	if l["fitted"] == nil {
		t.Fatalf("%v", l)
	}
	text := ""
	for _, r := range l["fitted"].(object)["runs"].([]any) {
		text += r.(object)["text"].(string) + " "
	}
	for _, want := range []string{"three ways", "Ingredients:", "Contains:", "milk", "Net wt", "lb", "Use by", "L2609"} {
		if !strings.Contains(text, want) {
			t.Errorf("the label does not say %q: %s", want, text)
		}
	}
	if l["pieces"] != 12.0 || l["labels"] != 1.0 || l["made"] != false {
		t.Errorf("%v", l)
	}
	// The smallest letters have 1/16 in (21 CFR 101.2(c)).
	if h := l["fitted"].(object)["letter"].(float64); h < 25.4/16-1e-6 {
		t.Errorf("letters of %v mm", h)
	}
	pdf := p.send("GET", path+".pdf?sheet=a4-8&start=7&count=4", nil)
	words, pages := wordsOf(t, pdf.body)
	if pdf.status != 200 || len(pages) != 2 || math.Abs(pages[0][0]-210) > 0.1 || math.Abs(pages[0][1]-297) > 0.1 {
		t.Fatalf("%d: pages of %v", pdf.status, pages)
	}
	var first []word
	for _, w := range words {
		if w.text == "Ingredients:" {
			first = append(first, w)
		}
	}
	sheet := label.Sheets()[2]
	places, _ := sheet.Places(7, 4)
	if len(first) != len(places) {
		t.Fatalf("%d labels", len(first))
	}
	var run object
	for _, r := range l["fitted"].(object)["runs"].([]any) {
		if strings.HasPrefix(r.(object)["text"].(string), "Ingredients:") {
			run = r.(object)
		}
	}
	for i, w := range first {
		if w.page != places[i].Page || math.Abs(w.x-places[i].X-run["x"].(float64)) > 0.2 {
			t.Errorf("label %d stands at %v on page %d, want %v", i, w.x, w.page, places[i].X+run["x"].(float64))
		}
		if i > 0 && w.page == first[0].page && math.Abs(w.y-first[0].y-(places[i].Y-places[0].Y)) > 0.2 {
			t.Errorf("label %d stands at %v, the first at %v", i, w.y, first[0].y)
		}
	}

	// Made, the day counts from then: the days of the plan were others.
	p.move(200, o["id"], "in the making")
	p.move(200, o["id"], "packed")
	if l = of("?sheet=a4-8"); l["made"] != true || l["until"] != "2026-09-03" {
		t.Errorf("made %v, until %v", l["made"], l["until"])
	}
	// By the law of the EU what is in it stands out in the list, with nothing said beside it.
	kitchen := p.must(200, "GET", "/kitchen", nil)
	p.must(200, "PUT", "/kitchen", with(kitchen, object{"law": "eu"}), "If-Match", p.tag("/kitchen"))
	text = fmt.Sprint(of("?sheet=a4-8")["fitted"])
	if strings.Contains(text, "Contains:") || strings.Contains(text, " oz ") || !regexp.MustCompile(`bold:true size:[0-9.]+ text:milk`).MatchString(text) {
		t.Errorf("by the law of the EU: %s", text)
	}
}

// What cannot be printed is refused with its reason.
func TestLabelsThatCannotBe(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	o := p.must(201, "POST", "/orders", with(p.draft("A dozen strawberries, three ways", 12), object{"customer": "Label Lou"}))
	p.move(200, o["id"], "promised")
	path := fmt.Sprint("/orders/", o["id"], "/labels")
	of := func(query string) object {
		return p.must(200, "GET", path+query, nil)["labels"].([]any)[0].(object)
	}
	if l := of("?sheet=roll-57-32"); l["fitted"] != nil || !strings.Contains(fmt.Sprint(l["fault"]), "larger label") {
		t.Errorf("%v", l["fault"])
	}
	if l := of("?sheet=a4-8&free=" + url.QueryEscape("ᚠ of luck")); l["fitted"] != nil ||
		!strings.Contains(fmt.Sprint(l["fault"]), "no font") {
		t.Errorf("%v", l["fault"])
	}
	if l := of("?sheet=letter-6&free=" + url.QueryEscape("巧克力 دلع")); l["fitted"] == nil {
		t.Errorf("in other scripts: %v", l["fault"])
	}
	if res := p.send("GET", path+".pdf?sheet=roll-57-32", nil); res.status != 409 {
		t.Errorf("%d", res.status)
	}
	p.problem(422, "body.sheet", "no such sheet", p.send("GET", path+"?sheet=none", nil))
	p.problem(422, "body.own", "cannot be read", p.send("GET", path+"?own=%7B", nil))
	own := url.QueryEscape(`{"width":100,"height":100,"columns":2,"rows":1,"left":0,"top":0,"long":60,"high":90,"pitchX":60,"pitchY":90}`)
	p.problem(422, "body.own.columns", "end at", p.send("GET", path+"?own="+own, nil))
	p.problem(422, "body.start", "from 1 to 6", p.send("GET", path+".pdf?sheet=letter-6&start=7", nil))
	if res := p.send("GET", path+".pdf?sheet=a4-8&line=4", nil); res.status != 404 {
		t.Errorf("%d", res.status)
	}
	trial := p.send("GET", "/label-sheets/calibration.pdf?sheet=letter-30", nil)
	if words, pages := wordsOf(t, trial.body); len(pages) != 1 || math.Abs(pages[0][0]-215.9) > 0.1 || len(words) < 30 {
		t.Errorf("%d words on %v", len(words), pages)
	}
	roll := p.send("GET", path+".pdf?sheet=roll-102-76&count=3", nil)
	if _, pages := wordsOf(t, roll.body); len(pages) != 3 || math.Abs(pages[0][0]-102) > 0.1 || math.Abs(pages[0][1]-76) > 0.1 {
		t.Errorf("%d, pages of %v", roll.status, pages)
	}
}

// Sixty guests at tables become tags: read back from the PDF each name stands on a label of its own, next to its table.
func TestTagsForGuests(t *testing.T) {
	t.Parallel()
	maren := open(t).maren(t)
	list := "name,table\n"
	for n := range 60 {
		list += fmt.Sprintf("Guest Nr %d,%d\n", n+1, n%7+1)
	}
	g := maren.must(200, "POST", "/calculators/guests", object{"text": list})
	if len(g["guests"].([]any)) != 60 || len(g["tables"].([]any)) != 7 || g["tables"].([]any)[0].(object)["guests"] != 9.0 {
		t.Fatalf("%v", g)
	}
	pdf := maren.send("POST", "/calculators/tags.pdf?sheet=a4-8&start=3", object{"text": list})
	if pdf.status != 200 || !strings.HasPrefix(pdf.body, "%PDF-") {
		t.Fatalf("%d %.200s", pdf.status, pdf.body)
	}
	file := filepath.Join(t.TempDir(), "tags.pdf")
	if err := os.WriteFile(file, []byte(pdf.body), 0o600); err != nil {
		t.Fatal(err)
	}
	read, err := exec.Command("pdftotext", "-layout", file, "-").Output()
	if err != nil {
		t.Fatal(err)
	}
	if n := len(regexp.MustCompile(`Nr \d+`).FindAll(read, -1)); n != 60 || strings.Count(string(read), "Table 7") != 8 ||
		strings.Count(string(read), "\f") != 8 { // two labels of the first sheet are used up: 62 on sheets of 8
		t.Errorf("%d names, %d pages:\n%s", n, strings.Count(string(read), "\f"), read)
	}
	maren.problem(422, "body.text", "no guests", maren.send("POST", "/calculators/tags.pdf", object{"text": "name\n"}))
	maren.problem(409, "", "no font", maren.send("POST", "/calculators/tags.pdf", object{"text": "Ana ᚠ"}))
	maren.problem(422, "body.sheet", "", maren.send("POST", "/calculators/tags.pdf?sheet=none", object{"text": "Ana"}))
}

// The label of a mixed box: what is in it piece by piece, each with its ingredients, what all of it weighs, and the day
// of what spoils first.
func TestTheLabelOfAMixedBox(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	box := find(t, p.must(200, "GET", "/supplies", nil)["supplies"], "name", "Boxes for 12")["id"]
	d := p.draft("Strawberries with white lines", 12)
	d["lines"] = append(d["lines"].([]object), object{"treat": p.treat("Bergamot truffles"), "count": 24})
	d["sets"] = []object{{"supply": box, "boxes": 4, "pieces": []int{2, 3}}}
	id := p.must(201, "POST", "/orders", d)["id"]
	labels := func(query string) []any {
		return p.must(200, "GET", fmt.Sprint("/orders/", id, "/labels?sheet=a4-8", query), nil)["labels"].([]any)
	}
	says := func(l any) string {
		var text []string
		for _, r := range l.(object)["fitted"].(object)["runs"].([]any) {
			text = append(text, r.(object)["text"].(string))
		}
		return strings.Join(text, " ")
	}
	grams := func(l any) int {
		found := regexp.MustCompile(`(\d+) g\b`).FindStringSubmatch(says(l))
		if found == nil {
			t.Fatalf("no weight: %s", says(l))
		}
		n, _ := strconv.Atoi(found[1])
		return n
	}
	p.move(200, id, "promised")
	all := labels("")
	if len(all) != 3 {
		t.Fatalf("%d labels", len(all))
	}
	mixed := all[2].(object)
	if mixed["name"] != "Mixed box" || mixed["labels"].(float64) != 4 || mixed["pieces"].(float64) != 5 ||
		mixed["line"].(float64) != 2 {
		t.Errorf("%v", mixed)
	}
	text := says(mixed)
	for _, want := range []string{"2 Strawberries with white lines, ingredients:", "3 Bergamot truffles, ingredients:", "Contains"} {
		if !strings.Contains(text, want) {
			t.Errorf("%q is not on it: %s", want, text)
		}
	}
	bombs, truffles := labels("&pieces=2")[0], labels("&pieces=3")[1]
	if sum := grams(bombs) + grams(truffles); grams(mixed) < sum || grams(mixed) > sum+1 { // both are rounded down
		t.Errorf("%d g, its pieces weigh %d", grams(mixed), sum)
	}
	first := min(bombs.(object)["until"].(string), truffles.(object)["until"].(string))
	if mixed["until"] != first {
		t.Errorf("until %v, what spoils first until %s", mixed["until"], first)
	}
	if lots := mixed["lots"].([]any); len(lots) != 2 {
		t.Errorf("lots %v", lots)
	}
	if pdf := p.send("GET", fmt.Sprint("/orders/", id, "/labels.pdf?sheet=a4-8&line=2"), nil); pdf.status != 200 {
		t.Errorf("%d %s", pdf.status, pdf.body)
	} else if words, _ := wordsOf(t, pdf.body); strings.Count(fmt.Sprint(words), " Mixed}") != 4 {
		t.Errorf("it is printed %d times", strings.Count(fmt.Sprint(words), " Mixed}"))
	}
	// Of 12 and 24 pieces 8 and 12 lie in the mixed boxes: labels of one piece are for the 4 and 12 that are left.
	single := labels("&pieces=1")
	if a, b := single[0].(object)["labels"], single[1].(object)["labels"]; a != 4.0 || b != 12.0 {
		t.Errorf("%v and %v labels for what lies in no mixed box", a, b)
	}
	// All of the order, one after the other: as many as each takes.
	n := 0
	for _, l := range all {
		n += int(l.(object)["labels"].(float64))
	}
	pdf := p.send("GET", fmt.Sprint("/orders/", id, "/labels.pdf?sheet=a4-8&line=-1"), nil)
	words, pages := wordsOf(t, pdf.body)
	if net := strings.Count(fmt.Sprint(words), " Net}"); net != n || len(pages) != (n+7)/8 {
		t.Errorf("%d labels on %d pages, want %d", net, len(pages), n)
	}
}
