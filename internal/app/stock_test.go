package app_test

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"math"
	"math/rand/v2"
	"net/http"
	"strings"
	"sync"
	"testing"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/ident"
	"zestytin/core/ledger"
	"zestytin/core/measure"
	"zestytin/core/si"
	"zestytin/internal/larder"
	"zestytin/internal/platform/clock"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// item of the stock by name.
func (p *person) item(name string) object {
	p.t.Helper()
	return find(p.t, p.must(200, "GET", "/stock", nil)["items"], "name", name)
}

func amount(o any) float64 { return o.(object)["amount"].(float64) }

// A batch that is made takes what it uses first expired first, chocolate comes back as a lot of its own with the oldest
// best-before, and a tick that is taken back puts all of it back.
func TestMakingUsesLots(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	order := p.must(201, "POST", "/orders", p.draft("Milk malt bombs", 12))
	p.move(200, order["id"], "promised")
	milk := p.item("Milk 38%")
	full := func() object { return p.must(200, "GET", fmt.Sprint("/stock/", milk["id"]), nil) }
	before := full()
	lots := before["lotList"].([]any)
	oldest := lots[0].(object)
	for _, l := range lots {
		if u := l.(object)["bestBefore"].(string); u < oldest["bestBefore"].(string) {
			t.Errorf("%s stands behind %s: not in the order of use", u, oldest["bestBefore"])
		}
	}
	r := p.must(200, "POST", "/estimates", object{"order": order["id"], "draft": order["draft"]})
	need := find(t, r["needs"], "name", "Milk 38%")
	used, house := amount(need["used"]), amount(need["house"])
	p.move(200, order["id"], "in the making")
	p.move(200, order["id"], "packed")
	after := full()
	if got := amount(before["stock"]) - amount(after["stock"]); math.Abs(got-used) > 0.01 {
		t.Errorf("making took %v g of milk, the card uses %v", got, used)
	}
	var back object
	for _, l := range after["lotList"].([]any) {
		if lot := l.(object); lot["origin"] == "reclaimed" && math.Abs(amount(lot["came"])-(house-used)) < 0.01 {
			back = lot
		}
	}
	if back == nil || back["bestBefore"] != oldest["bestBefore"] {
		t.Errorf("what came back: %v, want %v g good until %v", back, house-used, oldest["bestBefore"])
	}
	// The last step's tick is taken back: the batch is not made any more.
	p.move(200, order["id"], "in the making")
	batch := p.order(order["id"])["days"].([]any)[0].(object)
	sheet := p.must(200, "GET", fmt.Sprint("/days/", batch["day"], "/run-sheet"), nil)["steps"].([]any)
	last := ""
	for _, s := range sheet {
		if step := s.(object); step["batch"] == batch["batch"] {
			last = step["step"].(string)
		}
	}
	tick := fmt.Sprint("/batches/", batch["batch"], "/steps/", last)
	p.must(200, "PUT", tick, object{"done": false})
	if got := full(); math.Abs(amount(got["stock"])-amount(before["stock"])) > 0.01 {
		t.Errorf("taken back there are %v, were %v", amount(got["stock"]), amount(before["stock"]))
	}
	p.must(200, "PUT", tick, object{"done": true})
	if got := full(); math.Abs(amount(before["stock"])-amount(got["stock"])-used) > 0.01 {
		t.Errorf("made again it took %v", amount(before["stock"])-amount(got["stock"]))
	}
}

// What is not on record does not hold up the bench, and is not forgotten: it is told until a receipt or a count
// accounts for it.
func TestNothingGoesBelowZeroSilently(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	order := p.must(201, "POST", "/orders", p.draft("Milk malt bombs", 12))
	p.move(200, order["id"], "promised")
	malt := p.item("Cardamom malt mix")
	path := fmt.Sprint("/stock/", malt["id"])
	p.must(200, "POST", path+"/counts", object{"amount": object{"amount": 10, "unit": "g"}, "reason": "the jar fell"})
	p.move(200, order["id"], "in the making")
	p.move(200, order["id"], "packed")
	now := p.must(200, "GET", path, nil)
	if amount(now["stock"]) != 0 || now["unaccounted"] == nil {
		t.Fatalf("stock %v, unaccounted %v", now["stock"], now["unaccounted"])
	}
	missing := amount(now["unaccounted"])
	booked := p.must(201, "POST", "/receipts", object{"shop": "Harbour market", "day": "2026-09-03",
		"lines": []object{{"item": malt["id"], "packs": 1, "size": object{"amount": 800, "unit": "g"},
			"paid": "9.80"}}})
	if notes := fmt.Sprint(booked["notes"]); !strings.Contains(notes, "had been used before this was entered") {
		t.Errorf("notes: %s", notes)
	}
	now = p.must(200, "GET", path, nil)
	if now["unaccounted"] != nil || math.Abs(amount(now["stock"])-(800-missing)) > 0.01 {
		t.Errorf("after the receipt: stock %v of 800 less %v, unaccounted %v", now["stock"], missing,
			now["unaccounted"])
	}
}

func TestReceipts(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	butter := p.item("Butter")
	before := amount(butter["stock"])
	line := object{"item": butter["id"], "packs": 2, "size": object{"amount": 1, "unit": "lb"}, "paid": "9.80",
		"bestBefore": "2026-10-30", "written": "best butter"}
	receipt := object{"shop": "Corner shop", "day": "2026-09-02", "lines": []object{line}}
	first := p.must(201, "POST", "/receipts", receipt, "Idempotency-Key", "slip-1")
	if again := p.must(201, "POST", "/receipts", receipt, "Idempotency-Key",
		"slip-1"); fmt.Sprint(again["lots"]) != fmt.Sprint(first["lots"]) {
		t.Errorf("the same slip twice: %v and %v", first, again)
	}
	now := p.must(200, "GET", fmt.Sprint("/stock/", butter["id"]), nil)
	if got := amount(now["stock"]) - before; math.Abs(got-2*453.59237) > 0.01 {
		t.Errorf("two pounds are %v g", got)
	}
	offer := find(t, now["offers"], "shop", "Corner shop")
	if offer["price"] != "4.90" {
		t.Errorf("a pack was seen at %v", offer["price"])
	}
	// Three for 10.00 are 3.33 each, and what was learned can be saved as it stands.
	p.must(201, "POST", "/receipts", object{"shop": "Three for ten", "day": "2026-09-02",
		"lines": []object{{"item": p.item("Crushed malt")["id"], "packs": 3, "size": object{"amount": 100, "unit": "g"},
			"paid": "10.00"}}})
	malt := fmt.Sprint("/stock/", p.item("Crushed malt")["id"])
	learned := p.must(200, "GET", malt, nil)["offers"].([]any)
	if third := find(t, learned, "shop", "Three for ten"); third["price"] != "3.33" {
		t.Errorf("a third of 10.00 is %v", third["price"])
	}
	var again []object
	for _, o := range learned {
		again = append(again, object{"shop": o.(object)["shop"], "size": o.(object)["size"],
			"price": o.(object)["price"], "seen": o.(object)["seen"]})
	}
	p.must(200, "PUT", malt+"/offers", object{"offers": again})
	// The words of the slip are remembered.
	read := p.must(200, "POST", "/calculators/slip",
		object{"text": "best butter 1 lb 4.90\n\nDark 60 % 1 kg 14.50\nsomething odd 3.00"})["lines"].([]any)
	if len(read) != 3 || read[0].(object)["item"] != butter["id"] || read[1].(object)["item"] == nil ||
		read[2].(object)["item"] != nil {
		t.Errorf("%v", read)
	}
	for _, c := range []struct {
		change     object
		path, says string
	}{
		{object{"item": db.NewID().String()}, "body.lines[0].item", "not in your larder"},
		{object{"size": object{"amount": 1, "unit": "crate"}}, "body.lines[0].size", "crate"},
		{object{"size": object{"amount": 0, "unit": "g"}}, "body.lines[0].size", "above 0"},
		{object{"size": object{"amount": 1e9, "unit": "kg"}}, "body.lines[0].size", "fits into a larder"},
		{object{"size": object{"amount": 1e12, "unit": "kg"}}, "body.lines[0].size.amount", "at most 1,000,000,000"},
		{object{"paid": "-1"}, "body.lines[0].paid", "less than 0"},
		{object{"bestBefore": "soon"}, "body.lines[0].bestBefore", "date such as"},
	} {
		p.problem(422, c.path, c.says, p.send("POST", "/receipts",
			with(receipt, object{"lines": []object{with(line, c.change)}})))
	}
	p.problem(422, "body.day", "is in the future", p.send("POST", "/receipts",
		with(receipt, object{"day": "2026-09-04"})))
	// A purchase that never was is taken back, once and only while nothing of it is used.
	lot := first["lots"].([]any)[0]
	p.must(204, "DELETE", fmt.Sprint("/lots/", lot), nil)
	p.must(204, "DELETE", fmt.Sprint("/lots/", lot), nil)
	if got := amount(p.item("Butter")["stock"]); math.Abs(got-before) > 0.01 {
		t.Errorf("taken back there are %v, were %v", got, before)
	}
	dark := p.must(200, "GET", fmt.Sprint("/stock/", p.item("Dark 60%")["id"]), nil)
	open := dark["lotList"].([]any)[0].(object)
	p.problem(409, "", "used already", p.send("DELETE", fmt.Sprint("/lots/", open["id"]), nil))
	// An opened lot is good for less long.
	path, tag := fmt.Sprint("/lots/", open["id"]), fmt.Sprintf(`"%v"`, open["revision"])
	p.problem(422, "body.openUntil", "when it was opened", p.send("PUT", path,
		object{"bestBefore": "", "opened": "", "openUntil": "2026-09-09"}, "If-Match", tag))
	p.must(200, "PUT", path, object{"bestBefore": "2027-01-01", "opened": "2026-08-20", "openUntil": "2026-08-30"},
		"If-Match", tag)
	p.problem(412, "", "Someone else saved changes", p.send("PUT", path,
		object{"bestBefore": "", "opened": "", "openUntil": ""}, "If-Match", tag))
	if now := p.item("Dark 60%"); now["past"] == nil || amount(now["stock"]) >= amount(dark["stock"]) {
		t.Errorf("past its day: %v, stock %v", now["past"], now["stock"])
	}
	// Packs that shops sell.
	offers := fmt.Sprint("/stock/", butter["id"], "/offers")
	p.problem(422, "body.offers[0].size", "above 0",
		p.send("PUT", offers, object{"offers": []object{{"shop": "", "size": object{"amount": 0, "unit": "g"},
			"price": "1"}}}))
	if got := p.must(200, "PUT", offers, object{"offers": []object{{"shop": "Farm stand",
		"size": object{"amount": 250, "unit": "g"}, "price": "2.20"}}})["offers"].([]any); len(got) != 1 {
		t.Errorf("%v", got)
	}
}

// The list says what to buy; a tick puts it into the larder, after which it is not on the list; the same tick of two
// people is one.
func TestShopping(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	list := p.must(200, "GET", "/shopping-list", nil)
	shop := find(t, list["shops"], "shop", "Farm stand")
	berries := find(t, shop["lines"], "name", "Strawberries")
	// Handbook 4.8: fruit the day before; Saturday's berries on Friday the 4th.
	if berries["on"] != "2026-09-04" || berries["notBefore"] != "2026-09-04" || berries["needed"] != "2026-09-05" {
		t.Errorf("berries are bought %v", berries)
	}
	stock := p.item("Strawberries")
	if runs := stock["runs"].(object); runs["day"] != "2026-09-05" ||
		math.Abs(amount(runs["amount"])-amount(berries["need"])) > 0.01 {
		t.Errorf("runs short %v, the list says %v", runs, berries["need"])
	}
	text, csv := p.send("GET", "/shopping-list.txt", nil).body, p.send("GET", "/shopping-list.csv", nil).body
	if !strings.Contains(text, "Farm stand (") || !strings.Contains(text, "[ ] Strawberries: ") ||
		!strings.Contains(csv, "Farm stand,Strawberries,") {
		t.Errorf("%s\n%s", text, csv)
	}
	tick := object{"item": berries["item"], "shop": "Farm stand", "packs": berries["packs"]}
	booked := p.must(201, "POST", "/shopping-list/ticks", tick, "Idempotency-Key", "k")
	if again := p.must(201, "POST", "/shopping-list/ticks", tick, "Idempotency-Key",
		"k"); fmt.Sprint(again) != fmt.Sprint(booked) {
		t.Errorf("ticked twice: %v and %v", booked, again)
	}
	list = p.must(200, "GET", "/shopping-list", nil)
	for _, s := range list["shops"].([]any) {
		for _, l := range s.(object)["lines"].([]any) {
			if l.(object)["name"] == "Strawberries" {
				t.Errorf("still to buy: %v", l)
			}
		}
	}
	if basket := list["basket"].([]any); len(basket) != len(booked["lots"].([]any)) {
		t.Errorf("basket: %v", basket)
	}
	for _, lot := range booked["lots"].([]any) {
		p.must(204, "DELETE", fmt.Sprint("/lots/", lot), nil)
	}
	if got := p.must(200, "GET", "/shopping-list", nil); fmt.Sprint(find(t,
		find(t, got["shops"], "shop", "Farm stand")["lines"], "name", "Strawberries")["need"]) != fmt.Sprint(
		berries["need"]) {
		t.Error("taken out of the basket it is not on the list as before")
	}
	p.problem(422, "body.to", "ends before it starts", p.send("GET", "/shopping-list?from=2026-09-10&to=2026-09-09",
		nil))
	p.problem(422, "body.packs[0].price", "not an amount", p.send("POST", "/shopping-list/ticks",
		with(tick, object{"packs": []object{{"count": 1, "size": object{"amount": 1, "unit": "lb"}, "price": "free",
			"shown": object{"amount": 1, "unit": "lb", "metric": "", "us": ""}}}})))
}

// lines of an import's answer.
func (p *person) bring(query, file string) (steps int, result object) {
	p.t.Helper()
	a := p.send("POST", "/receipts.csv?"+query, file, "Content-Type", "text/csv")
	if a.status != 200 {
		p.t.Fatalf("%d %s", a.status, a.body)
	}
	for _, line := range strings.Split(strings.TrimSpace(a.body), "\n") {
		var step object
		if err := json.Unmarshal([]byte(line), &step); err != nil {
			p.t.Fatalf("%v: %s", err, line)
		}
		steps++
		if r, ok := step["result"].(object); ok {
			result = r
		}
	}
	return steps, result
}

func TestReceiptsFromAFile(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	file := "\ufeffWhat;Packs;Size;Paid;Day\nButter;2;1 lb;9,80;1.9.2026\nIcing sugar;1;1 kg;2,40;2.9.2026\nMoon dust;1;1 kg;3,00;2.9.2026\nButter;none;1 lb;1,00;2.9.2026\nLabels;1;250;12,00;2.9.2026\n"
	head := p.must(200, "POST", "/receipts.csv/columns", file, "Content-Type", "text/csv")
	if guess := head["guess"].(object); len(head["columns"].([]any)) != 5 || guess["paid"] != 3.0 ||
		guess["day"] != 4.0 || guess["shop"] != -1.0 {
		t.Errorf("%v", head)
	}
	query := "name=0&packs=1&size=2&paid=3&day=4&dates=dmy&keep="
	before := amount(p.item("Butter")["stock"])
	for _, keep := range []string{"none", "all"} { // with bad rows neither books anything
		_, r := p.bring(query+keep, file)
		if r["booked"] != 0.0 || r["good"] != 3.0 || r["bad"] != 2.0 {
			t.Errorf("%s: %v", keep, r)
		}
		rows := r["rows"].([]any)
		if rows[0].(object)["line"] != 4.0 || !strings.Contains(rows[0].(object)["says"].(string), "Moon dust") ||
			rows[1].(object)["line"] != 5.0 {
			t.Errorf("bad rows: %v", rows)
		}
	}
	if got := amount(p.item("Butter")["stock"]); got != before {
		t.Errorf("looking booked %v", got-before)
	}
	_, r := p.bring(query+"good", file)
	if r["booked"] != 3.0 {
		t.Errorf("%v", r)
	}
	if got := amount(p.item("Butter")["stock"]) - before; math.Abs(got-2*453.59237) > 0.01 {
		t.Errorf("booked %v g of butter", got)
	}
	p.problem(415, "", "not a CSV file", p.send("POST", "/receipts.csv?name=0&paid=1", "\x89PNG\x00", "Content-Type",
		"text/csv"))
}

// large is a file of 50 000 rows.
func large() string {
	var file strings.Builder
	file.WriteString("name,size,paid,shop,day\n")
	for i := range 50_000 {
		fmt.Fprintf(&file, "Granulated sugar,%d g,%d.%02d,\"Shop, no. %d\",2026-0%d-%02d\n", 1+i%9, i%7, i%100, i%50,
			1+i%8, 1+i%28)
	}
	return file.String()
}

func BenchmarkALargeFile(b *testing.B) {
	p, file := openFor(b).maren(b), large()
	for b.Loop() {
		p.bring("name=0&size=1&paid=2&shop=3&day=4&keep=all", file)
	}
}

// 50 000 rows: all of them booked, with progress on the way.
func TestALargeFile(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.maren(t)
	before := amount(p.item("Granulated sugar")["stock"])
	steps, r := p.bring("name=0&size=1&paid=2&shop=3&day=4&keep=all", large())
	if r["booked"] != 50_000.0 || r["bad"] != 0.0 || steps < 20 {
		t.Errorf("%d steps, %v", steps, r)
	}
	// 50 000 rows of 1 to 9 g: 5555 whole rounds of 45 g, and 1 + 2 + 3 + 4 + 5.
	if got := amount(p.item("Granulated sugar")["stock"]) - before; math.Abs(got-(5555*45+15)) > 0.5 {
		t.Errorf("%v g came", got)
	}
}

// Any interleaving of 5 000 and more receipts, uses, returns and counts by eight clients leaves every lot what its
// moves come to, none of them below zero, and the stock what came in less what went out.
func TestLotsUnderConcurrentClients(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.maren(t)
	ctx := context.Background()
	var who web.Actor
	orders := p.must(200, "GET", "/orders", nil)["orders"].([]any)
	order := uuid.MustParse(orders[0].(object)["id"].(string))
	owner, err := pgx.Connect(ctx, h.owner)
	if err != nil {
		t.Fatal(err)
	}
	defer owner.Close(ctx)
	if err := owner.QueryRow(ctx, `select kitchen_id, person_id from memberships`).Scan(&who.Kitchen,
		&who.Person); err != nil {
		t.Fatal(err)
	}
	ctx = web.WithWho(ctx, who)
	home := web.Base{Pool: h.pool, Clock: clock.Pinned(now)}
	var items []uuid.UUID
	for _, name := range []string{"Dark 60%", "Butter", "Sesame seed"} {
		items = append(items, uuid.MustParse(p.item(name)["id"].(string)))
	}
	l := h.app.Larder
	const clients, turns, promisers, promises = 8, 205, 2, 30
	var wait sync.WaitGroup
	failed := make(chan error, clients+promisers)
	// Two more promise orders and cancel them, over and over: what is reserved stands beside the lots.
	reserved := func() map[string]float64 {
		sums := map[string]float64{}
		for _, i := range p.must(200, "GET", "/stock", nil)["items"].([]any) {
			sums[i.(object)["name"].(string)] = amount(i.(object)["reserved"])
		}
		return sums
	}
	before, promised := reserved(), []string{}
	for c := range promisers {
		draft := with(p.draft("Milk malt bombs", 12*(c+1)), object{"from": fmt.Sprintf("2026-10-%d0T18:00:00Z", c+1),
			"to": fmt.Sprintf("2026-10-%d0T19:00:00Z", c+1)})
		promised = append(promised, fmt.Sprint("/orders/", p.must(201, "POST", "/orders", draft)["id"], "/moves"))
		wait.Go(func() {
			for range promises {
				for _, to := range []string{"promised", "cancelled", "enquiry"} {
					if a := p.send("POST", promised[c], object{"to": to}); a.status != 200 {
						failed <- fmt.Errorf("%s: %d %s", to, a.status, a.body)
						return
					}
				}
			}
		})
	}
	for c := range clients {
		wait.Go(func() {
			rnd := rand.New(rand.NewPCG(uint64(c), 99))
			made, emptied := []uuid.UUID{}, []uuid.UUID{}
			for range turns {
				// Two things at a time, in any order: whoever locks them does not wait in a circle.
				a, b := items[rnd.IntN(len(items))], items[rnd.IntN(len(items))]
				err := home.In(ctx, func(tx pgx.Tx) error {
					switch rnd.IntN(7) {
					case 0:
						_, err := l.Receive(ctx, tx, larder.Receipt{Day: "2026-09-02", Lines: []larder.ReceiptLine{
							{Item: a, Packs: 1 + rnd.IntN(3), Size: measure.Grams(si.Grams(1 + rnd.Float64()*200)),
								Paid: "1.00"}, {Item: b, Packs: 1, Size: measure.Grams(50), Paid: "1.00"}}}, "bought")
						return err
					case 1, 2:
						batch := db.NewID()
						uses := []larder.Use{{Item: a, Used: rnd.Float64() * 150}}
						if a != b {
							uses = append(uses, larder.Use{Item: b, Used: rnd.Float64() * 90})
						}
						err := larder.ConsumeForBatch(ctx, home, tx, order, batch, uses, nil)
						if err == nil {
							made = append(made, batch)
						}
						return err
					case 3: // a bowl, with what is left of it
						bowl := db.NewID()
						melt := ledger.Melt{Bowl: ledger.Open(
							[]ledger.Draw{{Pot: ledger.Pot{Ingredient: ident.Ingredient(a.String())},
								Applied: si.Grams(rnd.Float64() * 150), Pool: si.Grams(rnd.Float64() * 40),
								Least: 30}})}
						err := larder.Empty(ctx, home, tx, bowl, melt)
						if err == nil {
							emptied = append(emptied, bowl)
						}
						return err
					case 4:
						if len(emptied) == 0 {
							return nil
						}
						bowl := emptied[len(emptied)-1]
						emptied = emptied[:len(emptied)-1]
						return larder.Refill(ctx, home, tx, bowl)
					case 5:
						if len(made) == 0 {
							return nil
						}
						batch := made[len(made)-1]
						made = made[:len(made)-1]
						return larder.ReverseConsumption(ctx, home, tx, order, batch)
					default:
						return l.Count(ctx, tx, a, rnd.Float64()*600, "counted")
					}
				})
				var refused *web.Problem
				if err != nil && !(errors.As(err, &refused) &&
					refused.Status == http.StatusConflict) { // what came back was used meanwhile
					failed <- err
					return
				}
			}
		})
	}
	wait.Wait()
	close(failed)
	for err := range failed {
		t.Fatal(err)
	}
	// The sums are of other batches, in another order.
	if after := reserved(); !maps.EqualFunc(after, before, func(a, b float64) bool { return math.Abs(a-b) < 1e-6 }) {
		t.Errorf("reserved %v, was %v: all promises are cancelled", after, before)
	}
	for _, path := range promised {
		p.must(200, "POST", path, object{"to": "promised"})
	}
	// Each needs its share of what they are made in; those two may be made in one go.
	need := 0.0
	for _, path := range promised {
		o := p.must(200, "GET", strings.TrimSuffix(path, "/moves"), nil)
		r := p.must(200, "POST", "/estimates", object{"order": o["id"], "draft": o["draft"]})
		need += amount(find(t, r["needs"], "name", "Milk 38%")["used"])
	}
	if got := reserved()["Milk 38%"] - before["Milk 38%"]; math.Abs(got-need) > 0.5 {
		t.Errorf("%v g of milk chocolate reserved, want %v", got, need)
	}
	err = home.In(ctx, func(tx pgx.Tx) error {
		var lots, wrong, below, moves int
		if err := tx.QueryRow(ctx, `select count(*), count(*) filter (where abs(remaining - amount - moved) > 1e-3),
			count(*) filter (where remaining < 0), sum(n)::int from (
			select l.amount, l.remaining, coalesce(sum(m.change), 0) as moved, count(m.id) as n from lots l left
			join stock_moves m on m.kitchen_id = l.kitchen_id and m.lot_id = l.id group by l.kitchen_id, l.id) x`).Scan(&lots, &wrong, &below, &moves); err != nil {
			return err
		}
		if lots+moves < 3500 || wrong > 0 || below > 0 {
			t.Errorf("%d lots came, %d moves since; %d lots are not what their moves come to, %d are below zero", lots,
				moves, wrong, below)
		}
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
}
