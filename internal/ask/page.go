package ask

import (
	"context"
	"embed"
	"errors"
	"fmt"
	"html/template"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/invalid"
	"zestytin/core/order"
	"zestytin/core/reason"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

//go:embed page.html style.css
var files embed.FS

var pages = template.Must(template.ParseFS(files, "page.html"))

const (
	mostLines = 12   // kinds that one can ask for at once
	mostOf    = 1000 // pieces of a kind
	mostForm  = 64 << 10
	perDay    = 60 // requests that a kitchen gets by its page in a day
)

// Pages adds the public pages to a router.
func (a *Ask) Pages(r chi.Router) {
	r.With(a.Look).Get("/ask/{slug}", a.page(a.treats, false))
	r.With(a.Look).Get("/ask/{slug}/days", a.page(a.choose, true))
	r.With(a.Look, a.Send).Post("/ask/{slug}/days", a.page(a.send, true))
	r.With(a.Look).Get("/ask/{slug}/thanks", a.page(func(_ context.Context, _ pgx.Tx, v *view) error {
		v.Thanks = v.words.Of("ask.thanks", reason.Name(v.Kitchen))
		return nil
	}, false))
	r.With(a.Look).Get("/ask/{slug}/logo", a.page(func(_ context.Context, _ pgx.Tx, v *view) error {
		if v.image = v.logo; v.image == nil {
			return pgx.ErrNoRows
		}
		return nil
	}, false))
	r.Get("/ask/style.css", func(w http.ResponseWriter, _ *http.Request) {
		css, _ := files.ReadFile("style.css")
		w.Header().Set("Content-Type", "text/css; charset=utf-8")
		w.Header().Set("Cache-Control", "public, max-age=3600")
		_, _ = w.Write(css)
	})
}

// view is what a page shows. Whatever reads as language is here already in its words.
type view struct {
	words    *text.Words
	settings Settings
	form     url.Values

	Slug, Kitchen, Address, Hello string
	Statement                     string
	Logo                          bool
	logo                          []byte
	image                         []byte // a PNG that is asked for in the page's place
	Treats                        []shown
	Chosen                        []shown
	Total                         string
	Days                          []offered
	Form                          map[string]string // what was typed
	Checked                       map[string]bool
	Faults                        []string
	Free                          []string // allergens that one can ask to be without
	Thanks                        string
	Delivers                      bool
	Say                           says
	to                            string // where the browser is sent
	status                        int
}

// shown treat.
type shown struct {
	ID, Name, Contains, Price string
	Count                     int
	Drawing                   template.HTML
}

type offered struct{ Value, Name string }

// says are the fixed words of the page.
type says struct {
	Choose, HowMany, See, Yours, On, NoDay, Back, Name, Phone, Mail, Reach, Pickup, Delivery, Where, Occasion, Wishes,
	WishesHelp, Free, Shared, Consent, Kept, Send, Nothing, Trap, Approx string
}

func saysOf(w *text.Words, kitchen string) says {
	return says{Choose: w.Of("ask.choose"), HowMany: w.Of("ask.how-many"), See: w.Of("ask.see-days"),
		Yours: w.Of("ask.yours"), On: w.Of("ask.on-which-day"), NoDay: w.Of("ask.no-day"), Back: w.Of("ask.back"),
		Name: w.Of("ask.your-name"), Phone: w.Of("ask.phone"), Mail: w.Of("ask.mail"), Reach: w.Of("ask.one-of-both"),
		Pickup: w.Of("ask.pick-up"), Delivery: w.Of("ask.deliver"), Where: w.Of("ask.where-to"),
		Occasion: w.Of("ask.occasion"), Wishes: w.Of("ask.wishes"), WishesHelp: w.Of("ask.wishes-help"),
		Free: w.Of("ask.free-from"), Shared: w.Of("ask.home-kitchen"), Consent: w.Of("ask.consent", reason.Name(kitchen)),
		Kept: w.Of("ask.what-is-kept", reason.Name(kitchen)), Send: w.Of("ask.send"), Nothing: w.Of("ask.nothing-yet"),
		Trap: w.Of("ask.leave-empty"), Approx: w.Of("ask.price-is-about")}
}

func (a *Ask) begin(ctx context.Context, tx pgx.Tx, v *view) (err error) {
	if v.settings, _, err = load(ctx, tx); err != nil {
		return err
	}
	if v.words, err = web.Words(ctx, tx); err != nil {
		return err
	}
	house, err := a.House(ctx, tx)
	v.Kitchen, v.Address, v.Statement, v.Logo, v.logo = house.Name, house.Address, house.Statement, house.Logo != nil,
		house.Logo
	v.Hello, v.Delivers, v.Say = v.settings.Hello, v.settings.Delivers, saysOf(v.words, v.Kitchen)
	return err
}

// usual count that a price is told of.
const usual = 12

// treats that are shown, by name, each with what a dozen would cost.
func (a *Ask) treats(ctx context.Context, tx pgx.Tx, v *view) error {
	known, err := a.Kitchen(ctx, tx, order.Scope{})
	if err != nil {
		return err
	}
	known.Extent = order.FiguresOnly
	for _, t := range a.offered(known, v) {
		s, err := a.show(ctx, v, known, t, usual)
		if err != nil {
			continue // the larder lacks a number for it: there is no price to tell
		}
		s.Count = 0
		if n, err := strconv.Atoi(v.form.Get("n-" + s.ID)); err == nil && n > 0 {
			s.Count = min(n, mostOf)
		}
		v.Treats = append(v.Treats, s)
	}
	return nil
}

// offered treats, by name.
func (a *Ask) offered(known *order.Inputs, v *view) []order.Treat {
	list := []order.Treat{}
	for _, t := range known.Treats {
		if t.Formula != nil && !slices.Contains(v.settings.Hidden, uuid.MustParse(string(t.ID))) {
			list = append(list, t)
		}
	}
	slices.SortFunc(list, func(a, b order.Treat) int { return strings.Compare(a.Name, b.Name) })
	return list
}

// show a treat with what so many of it would cost.
func (a *Ask) show(ctx context.Context, v *view, known *order.Inputs, t order.Treat, count int) (shown, error) {
	d := order.Draft{Customer: "?", Way: order.Pickup, Lines: []order.Line{{Treat: t.ID, Count: count}},
		FreeFrom: []string{}}
	d.From, d.To = window(known.Calendar, max(v.settings.Notice, 14), &v.settings)
	r, err := order.Compute(ctx, &d, known)
	if err != nil {
		return shown{}, err
	}
	card := r.Lines[0].Card
	s := shown{ID: string(t.ID), Name: t.Name, Count: count, Drawing: drawing(t.Formula.Family, card.Look),
		Price: v.words.Of("ask.so-many-for", reason.Int(count), reason.Money(r.Money.Gross.Money))}
	if len(card.Declared) > 0 {
		s.Contains = v.words.Of("ask.contains", reason.Series(values(card.Declared)))
	}
	return s, nil
}

func values(list []reason.Word) reason.Series {
	s := make(reason.Series, len(list))
	for i, w := range list {
		s[i] = w
	}
	return s
}

// lines that are asked for.
func (a *Ask) lines(v *view, known *order.Inputs) (lines []order.Line) {
	for _, t := range a.offered(known, v) {
		typed := strings.TrimSpace(v.form.Get("n-" + string(t.ID)))
		if typed == "" {
			continue
		}
		n, err := strconv.Atoi(typed)
		if err == nil && n <= 0 {
			continue
		}
		if err != nil || n > mostOf || len(lines) == mostLines {
			v.Faults = append(v.Faults, v.words.Of("ask.too-many", reason.Int(mostLines), reason.Int(mostOf)))
			continue
		}
		lines = append(lines, order.Line{Treat: t.ID, Count: n})
	}
	return lines
}

// choose shows what is asked for and the days on which it can be had.
func (a *Ask) choose(ctx context.Context, tx pgx.Tx, v *view) error {
	known, err := a.Kitchen(ctx, tx, order.Scope{})
	if err != nil {
		return err
	}
	lines := a.lines(v, known)
	if len(lines) == 0 {
		v.Faults = append(v.Faults, v.words.Of("ask.how-many-of-which"))
		v.status = http.StatusUnprocessableEntity
		return a.treats(ctx, tx, v)
	}
	known.Extent = order.FiguresOnly
	for _, l := range lines {
		s, err := a.show(ctx, v, known, known.Treats[l.Treat], l.Count)
		if err != nil {
			return err
		}
		v.Chosen = append(v.Chosen, s)
	}
	d := order.Draft{Customer: "?", Way: order.Pickup, Lines: lines, FreeFrom: []string{}}
	d.From, d.To = window(known.Calendar, max(v.settings.Notice, 14), &v.settings)
	r, err := order.Compute(ctx, &d, known)
	if err != nil {
		return err
	}
	v.Total = v.words.Of("ask.total", reason.Money(r.Money.Gross.Money))
	for _, l := range r.Lines {
		for _, w := range l.Card.Declared {
			if name := v.words.Word(w); !slices.Contains(v.Free, name) {
				v.Free = append(v.Free, name)
			}
		}
	}
	days, err := a.days(ctx, tx, &v.settings, lines)
	if err != nil {
		return err
	}
	usual := r.Money.Gross.Money
	for _, day := range days {
		date := day.Format(time.DateOnly)
		name := v.words.Value(reason.Day(date))
		// What comes in a hurry may cost more: that is told beside its day.
		d.From, d.To = window(known.Calendar, dayOf(known.Calendar, day), &v.settings)
		if r, err = order.Compute(ctx, &d, known); err != nil {
			return err
		}
		if r.Money.Gross.Money != usual {
			name = v.words.Of("ask.day-at-a-price", reason.Day(date), reason.Money(r.Money.Gross.Money))
		}
		v.Days = append(v.Days, offered{date, name})
	}
	return nil
}

// trap is a field that people do not see: what fills it in is no person.
const trap = "website"

// send what was asked for: it stands among the requests of the kitchen.
func (a *Ask) send(ctx context.Context, tx pgx.Tx, v *view) error {
	if v.form.Get(trap) != "" {
		v.to = "/ask/" + v.Slug + "/thanks"
		return nil
	}
	if err := a.choose(ctx, tx, v); err != nil || len(v.Chosen) == 0 {
		return err
	}
	typed := func(name string, most int) string {
		s := strings.Join(strings.Fields(v.form.Get(name)), " ")
		v.Form[name] = s
		if len([]rune(s)) > most {
			v.Faults = append(v.Faults, v.words.Of("ask.too-long", reason.Int(most)))
		}
		return s
	}
	d := order.Draft{Customer: typed("name", 100), Phone: typed("phone", 100), Mail: typed("mail", 100),
		Occasion: typed("occasion", 100), Way: order.Pickup, FreeFrom: []string{},
		Address: v.words.Of("orders.at-the-door")}
	wishes := strings.TrimSpace(strings.ReplaceAll(v.form.Get("wishes"), "\r\n", "\n"))
	v.Form["wishes"] = wishes
	if len([]rune(wishes)) > 1000 {
		v.Faults = append(v.Faults, v.words.Of("ask.too-long", reason.Int(1000)))
	}
	where := typed("where", 200)
	if v.form.Get("way") == "delivery" && v.Delivers {
		d.Way, d.Address = order.Delivery, where
		v.Checked["delivery"] = true
		if where == "" {
			v.Faults = append(v.Faults, v.words.Of("ask.where-missing"))
		}
	}
	// What it is to be free from is a wish until the seller has looked at it: the word for it goes into the notes.
	asks := []string{v.words.Of("ask.came-by-the-page")}
	for _, name := range v.form["free"] {
		if slices.Contains(v.Free, name) {
			v.Checked["free-"+name] = true
			asks = append(asks, v.words.Of("ask.asks-to-be-without", reason.Name(name)))
		}
	}
	d.Notes = strings.TrimSpace(strings.Join(append(asks, wishes), "\n"))
	if d.Customer == "" {
		v.Faults = append(v.Faults, v.words.Of("ask.name-missing"))
	}
	if d.Phone == "" && d.Mail == "" {
		v.Faults = append(v.Faults, v.words.Of("ask.reach-missing"))
	}
	if v.form.Get("consent") == "" {
		v.Faults = append(v.Faults, v.words.Of("ask.consent-missing"))
	}
	day := v.form.Get("day")
	v.Form["day"] = day
	if !slices.ContainsFunc(v.Days, func(x offered) bool { return x.Value == day }) {
		v.Faults = append(v.Faults, v.words.Of("ask.day-missing"))
	}
	known, err := a.Kitchen(ctx, tx, order.Scope{})
	if err != nil {
		return err
	}
	var today int
	if err := tx.QueryRow(ctx, `select count(*) from orders where asked_at > $1`, a.Clock().Add(-24*time.Hour)).
		Scan(&today); err != nil {
		return err
	}
	if today >= perDay {
		v.Faults = append(v.Faults, v.words.Of("ask.full-for-today"))
	}
	if len(v.Faults) > 0 {
		v.status = http.StatusUnprocessableEntity
		return nil
	}
	date, err := time.Parse(time.DateOnly, day)
	if err != nil {
		return err
	}
	d.From, d.To = window(known.Calendar, dayOf(known.Calendar, date), &v.settings)
	d.Lines = a.lines(v, known)
	id, err := a.Write(ctx, tx, d)
	var faults *invalid.Error
	if errors.As(err, &faults) {
		v.status = http.StatusUnprocessableEntity
		for _, f := range faults.Fields {
			v.Faults = append(v.Faults, v.words.Value(reason.Because(f.Err)))
		}
		return nil
	}
	if err != nil {
		return err
	}
	v.to = fmt.Sprintf("/ask/%s/thanks", v.Slug)
	_, err = tx.Exec(ctx, `update orders set asked_at = $2 where id = $1`, id, a.Clock())
	return err
}
