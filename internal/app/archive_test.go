package app_test

import (
	"archive/zip"
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"regexp"
	"strings"
	"testing"

	"zestytin/internal/archive"
	"zestytin/internal/platform/db"
)

// unzipped file: its parts by their names.
func unzipped(t testing.TB, file string) map[string]string {
	t.Helper()
	z, err := zip.NewReader(strings.NewReader(file), int64(len(file)))
	if err != nil {
		t.Fatal(err)
	}
	parts := map[string]string{}
	for _, f := range z.File {
		in, err := f.Open()
		if err != nil {
			t.Fatal(err)
		}
		body, err := io.ReadAll(in)
		if err != nil {
			t.Fatal(err)
		}
		parts[f.Name] = string(body)
	}
	return parts
}

// zipped again.
func zipped(t testing.TB, parts map[string]string) string {
	t.Helper()
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for name, body := range parts {
		f, err := z.Create(name)
		if err == nil {
			_, err = f.Write([]byte(body))
		}
		if err != nil {
			t.Fatal(err)
		}
	}
	if err := z.Close(); err != nil {
		t.Fatal(err)
	}
	return b.String()
}

func (p *person) exported() string {
	p.t.Helper()
	a := p.send("GET", "/kitchen.zip", nil)
	if a.status != 200 || a.header.Get("Content-Type") != "application/zip" ||
		a.header.Get("Cache-Control") != "no-store" {
		p.t.Fatalf("%d %v", a.status, a.header)
	}
	return a.body
}

func (p *person) takes(file string) answer {
	p.t.Helper()
	return p.send("POST", "/kitchen.zip", file, "Content-Type", "application/zip")
}

var anID = regexp.MustCompile(`"id": ?"([0-9a-f-]{36})", ?"name"|"name": ?"[^"]*", ?"id": ?"([0-9a-f-]{36})"`)

// The demo kitchen, with a bit of all that there is and random orders in it, and what another kitchen makes of its
// file: every table is the same, row for row and figure for figure, but who did it, and the secrets of links. Pages of
// both read the same.
func TestAKitchenGoesIntoAnother(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren, bo := h.maren(t), h.stranger(t)
	r := rand.New(rand.NewPCG(19, 11))
	list := maren.must(200, "GET", "/treats", nil)["treats"].([]any)
	for i := range 12 {
		of := list[r.IntN(len(list))].(object)["name"].(string)
		from := fmt.Sprintf("2026-09-%02dT18:00:00Z", 12+r.IntN(15))
		d := with(maren.draft(of, 1+r.IntN(24)), object{"customer": fmt.Sprintf("Ünal & “%d” Söhne, = \\ <b>", i),
			"from": from, "to": strings.Replace(from, "18:", "19:", 1)})
		made := maren.must(201, "POST", "/orders", d)
		if r.IntN(2) == 0 {
			maren.send("POST", fmt.Sprint("/orders/", made["id"], "/moves"), object{"to": "promised"})
		}
	}
	step := maren.sheetSteps("2026-09-05")[0]
	batch := fmt.Sprint(step["batch"])
	if a := maren.send("PUT", "/batches/"+batch+"/photo", aPicture(t)); a.status != 204 {
		t.Fatal(a.status, a.body)
	}
	maren.must(204, "PUT", "/kitchen/logo", aPicture(t))
	maren.sensor("probe", "F", false)
	bowl := maren.bowl(object{"probe": maren.sensor("probe", "C", true)["id"]})["id"].(string)
	maren.must(201, "POST", "/pots/"+bowl+"/deeds", object{"what": "smear"})
	maren.must(201, "POST", "/customers", object{"customers": []object{{"name": "Oona Reyes"}}})

	file := maren.exported()
	before := unzipped(t, file)
	for _, name := range []string{"README.txt", "manifest.json", "csv/orders.csv", "photos/" + batch + ".jpg",
		"logo.png",
		"data/treat_versions.json"} {
		if before[name] == "" {
			t.Errorf("%s is missing", name)
		}
	}
	var tokens []string
	rows, err := h.owned(t).Query(context.Background(), `select token from quotes union select secret from sensors
		where secret is not null union select password_hash from people`)
	if err != nil {
		t.Fatal(err)
	}
	for rows.Next() {
		var s string
		if err := rows.Scan(&s); err != nil {
			t.Fatal(err)
		}
		tokens = append(tokens, s)
	}
	for name, body := range before {
		for _, s := range tokens {
			if strings.Contains(body, s) {
				t.Errorf("%s holds a secret", name)
			}
		}
	}
	a := bo.takes(file)
	if a.status != 200 {
		t.Fatal(a.status, a.body)
	}
	var taken object
	if err := json.Unmarshal([]byte(a.body), &taken); err != nil || taken["orders"].(float64) < 12 {
		t.Errorf("%v %v", taken, err)
	}
	after := unzipped(t, bo.exported())
	idOf := func(parts map[string]string) string {
		found := anID.FindStringSubmatch(parts["people.json"])
		if found == nil {
			t.Fatal(parts["people.json"])
		}
		return found[1] + found[2]
	}
	theirs, ours := idOf(before), idOf(after)
	for name, body := range before {
		if name == "manifest.json" || name == "people.json" {
			continue
		}
		if got := strings.ReplaceAll(after[name], ours, theirs); got != body {
			for i := range min(len(got), len(body)) {
				if got[i] != body[i] {
					t.Errorf("%s: …%s…\nbut …%s…", name, body[max(i-150, 0):min(i+150, len(body))],
						got[max(i-150, 0):min(i+150, len(got))])
					break
				}
			}
			if len(got) != len(body) {
				t.Errorf("%s: %d bytes, then %d", name, len(body), len(got))
			}
		}
	}
	for _, path := range []string{"/orders", "/treats", "/ingredients", "/stock", "/plan", "/days/2026-09-05/run-sheet",
		"/till", "/logbook", "/kitchen", "/customers/book"} {
		if x, y := maren.send("GET", path, nil), bo.send("GET", path, nil); x.status != 200 ||
			strings.ReplaceAll(y.body, "Bo", "Maren Halloway") != strings.ReplaceAll(x.body, "Bo", "Maren Halloway") {
			t.Errorf("%s: %d, %d bytes; %d, %d bytes", path, x.status, len(x.body), y.status, len(y.body))
			for i := range min(len(x.body), len(y.body)) {
				if x.body[i] != y.body[i] {
					t.Errorf("…%s…\nbut …%s…", x.body[max(i-100, 0):min(i+100, len(x.body))],
						y.body[max(i-100, 0):min(i+100, len(y.body))])
					break
				}
			}
		}
	}
	// The old links still lead to the old kitchen alone, and nothing is mixed into one that is used.
	bo.problem(409, "", "never mixed", bo.takes(file))
	if log := bo.safety(); log[0] != "exported" {
		t.Errorf("%v", log)
	}
}

// A file that was cut, changed, mended so that its sums are right again, is of another version or none at all: it is
// said what is wrong, and nothing of it is kept.
func TestFilesThatAreNotTaken(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren, bo := h.maren(t), h.stranger(t)
	file := maren.exported()
	parts := unzipped(t, file)
	changed := func(name string, change func(string) string) string {
		other := map[string]string{}
		for n, body := range parts {
			other[n] = body
		}
		other[name] = change(other[name])
		if other[name] == "" {
			delete(other, name)
		}
		return zipped(t, other)
	}
	replace := func(old, fresh string) func(string) string {
		return func(s string) string {
			if !strings.Contains(s, old) {
				t.Fatalf("%q is not there", old)
			}
			return strings.Replace(s, old, fresh, 1)
		}
	}
	version := func(n int) string { return fmt.Sprintf(`"version": %d`, n) }
	// mended is a change that the manifest knows of.
	mended := func(name string, change func(string) string) string {
		body := change(parts[name])
		var m archive.Manifest
		if err := json.Unmarshal([]byte(parts["manifest.json"]), &m); err != nil {
			t.Fatal(err)
		}
		part := m.Files[name]
		part.SHA256 = fmt.Sprintf("%x", sha256.Sum256([]byte(body)))
		m.Files[name] = part
		text, err := json.Marshal(m)
		if err != nil {
			t.Fatal(err)
		}
		other := map[string]string{}
		for n, b := range parts {
			other[n] = b
		}
		other[name], other["manifest.json"] = body, string(text)
		return zipped(t, other)
	}
	none := func(string) string { return "" }
	for name, try := range map[string]struct{ file, says string }{
		"nothing":        {"", "body"},
		"no zip":         {"Dear kitchen", "not a whole zip"},
		"cut":            {file[:len(file)*2/3], "not a whole zip"},
		"another zip":    {zipped(t, map[string]string{"a.txt": "b"}), "not the data of a kitchen"},
		"changed":        {changed("data/orders.json", replace("Wren", "Wrem")), "data/orders.json"},
		"a part is gone": {changed("data/orders.json", none), "data/orders.json"},
		"newer": {changed("manifest.json", replace(version(archive.Version), version(archive.Version+1))),
			"bring the server up to date"},
		"older":   {changed("manifest.json", replace(version(archive.Version), version(3))), "make it anew"},
		"no JSON": {mended("data/lots.json", replace("[", "[[")), "lots"},
		"no such order": {mended("data/order_moves.json", func(s string) string {
			return regexp.MustCompile(`"order_id": "[^"]*"`).ReplaceAllString(s, `"order_id": "`+db.NewID().String()+`"`)
		}), "data"},
		"a word for a number": {mended("data/lots.json", func(s string) string {
			return regexp.MustCompile(`"amount": [0-9.]+`).ReplaceAllString(s, `"amount": "much"`)
		}), "lots"},
		"not a formula": {mended("data/treat_versions.json", func(s string) string {
			return strings.ReplaceAll(s, `"formula": {`, `"formula": {"coatings": [{"ingredient": "nothing"}], "was": {`)
		}), ""},
	} {
		a := bo.takes(try.file)
		if a.status < 400 || a.status >= 500 || !strings.Contains(a.body, try.says) {
			t.Errorf("%s: %d %s", name, a.status, a.body)
		}
		for _, what := range []string{"orders", "treats", "ingredients"} {
			if left := bo.must(200, "GET", "/"+what, nil)[what].([]any); len(left) > 0 {
				t.Errorf("%s: there are %d %s now", name, len(left), what)
			}
		}
	}
	if a := bo.takes(file); a.status != 200 {
		t.Errorf("whole, it is taken: %d %s", a.status, a.body)
	}
}

// The version of the files is that of the newest migration: a change of the tables is a change of what is in them.
func TestTheVersionOfFiles(t *testing.T) {
	t.Parallel()
	h := open(t)
	var newest int
	if err := h.owned(t).QueryRow(context.Background(), `select max(version_id) from goose_db_version`).Scan(
		&newest); err != nil {
		t.Fatal(err)
	}
	if newest != archive.Version {
		t.Errorf("the newest migration is %d, files are of version %d: raise it, and see what a file of before lacks", newest,
			archive.Version)
	}
}
