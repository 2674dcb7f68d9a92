package account

import (
	"context"
	"net/mail"
	"regexp"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/trustelem/zxcvbn"
	"golang.org/x/text/currency"
	"golang.org/x/text/language"

	"zestytin/core/invalid"
	"zestytin/core/reason"
	"zestytin/core/start"
	"zestytin/core/treat"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Opening is a new kitchen and its first person.
type Opening struct {
	Kitchen  string `json:"kitchen"`
	Name     string `json:"name" doc:"The person's name"`
	Mail     string `json:"mail"`
	Password string `json:"password"`
	TimeZone string `json:"timeZone" example:"America/New_York"`
	Country  string `json:"country,omitempty" example:"US" doc:"ISO 3166: it proposes units, clock, dates, degrees, law and pay"`
	Currency string `json:"currency,omitempty" example:"USD" doc:"ISO 4217; empty: that of the country"`
}

// moneyOf a country, as CLDR has it: what is used there today.
func moneyOf(country string) string {
	if region, err := language.ParseRegion(country); err == nil {
		if unit, is := currency.FromRegion(region); is {
			return unit.String()
		}
	}
	return start.Of(country, "").Currency
}

// proposed is what the country of a new kitchen proposes, in its currency where that is known.
func (o *Opening) proposed() start.Country { return start.Of(o.Country, o.Currency) }

func (o *Opening) check() error {
	var f invalid.Faults
	o.checkKitchen(&f)
	o.checkPerson(&f)
	return f.Err()
}

// checkPerson: whose account it is to be.
func (o *Opening) checkPerson(f *invalid.Faults) {
	words(f, "name", o.Name, reason.Of("account.write-your-name"))
	if strings.TrimSpace(o.Mail) == "" {
		f.Add("mail", reason.Of("account.write-your-mail"))
	} else if _, err := mail.ParseAddress(o.Mail); err != nil || len(o.Mail) > 200 {
		f.Add("mail", reason.Of("account.not-mail-address-write-like", reason.Name(o.Mail)))
	}
	password(f, "password", o.Password, o.Mail)
}

func (o *Opening) checkKitchen(f *invalid.Faults) {
	words(f, "kitchen", o.Kitchen, reason.Of("account.name-the-kitchen"))
	if o.Currency == "" {
		o.Currency = moneyOf(o.Country)
	}
	if !isoCountry.MatchString(o.Country) {
		f.Add("country", reason.Of("account.not-a-country", reason.Name(o.Country)))
	}
	place(f, o.TimeZone, o.Currency)
}

func words(f *invalid.Faults, path, text string, missing reason.Reason) {
	if strings.TrimSpace(text) == "" {
		f.Add(path, missing)
	}
	if len([]rune(text)) > 100 {
		f.Add(path, reason.Of("account.this-longer-than-letters-shorten"))
	}
}

// password checks a new one: long enough, and not among the first that somebody would try who knows the address (NIST
// SP 800-63B, 5.1.1.2). How many tries it takes is estimated by zxcvbn, with the lists of common passwords, names and
// words that it ships.
func password(f *invalid.Faults, path, text, mail string) {
	switch letters := utf8.RuneCountInString(text); {
	case letters < 12:
		f.Add(path, reason.Of("account.password-has-at-least-letters", reason.Int(12)))
	case letters > 200:
		f.Add(path, reason.Of("account.password-has-at-most-letters"))
	default:
		name, _, _ := strings.Cut(mail, "@")
		head := string([]rune(text)[:min(letters, 40)]) // what is longer is no easier, and would take long to judge
		if zxcvbn.PasswordStrength(head, []string{name, mail, "zesty tin", "chocolate"}).Guesses < mostGuesses {
			f.Add(path, reason.Of("account.password-is-common"))
		}
	}
}

// mostGuesses is below how many tries a password counts as guessed at once.
const mostGuesses = 1e7

var isoCurrency = regexp.MustCompile(`^[A-Z]{3}$`)

func place(f *invalid.Faults, zone, currency string) {
	if _, err := time.LoadLocation(zone); err != nil || zone == "" || zone == "Local" {
		f.Add("timeZone", reason.Of("account.not-time-zone-write-like", reason.Name(zone)))
	}
	if !isoCurrency.MatchString(currency) {
		f.Add("currency", reason.Of("account.not-currency-write-its-three", reason.Name(currency)))
	}
}

// Open makes a kitchen with one person and an empty book.
func Open(ctx context.Context, pool *pgxpool.Pool, now time.Time, o Opening) (who web.Actor, err error) {
	if err := o.check(); err != nil {
		return who, err
	}
	hash, err := hashed(ctx, o.Password)
	if err != nil {
		return who, err
	}
	err = db.Begin(ctx, pool, func(tx pgx.Tx) error {
		who, err = open(ctx, tx, now, o, hash, nil)
		return err
	})
	return who, err
}

// open a kitchen whose opening has been checked. hash is that of its password; proven is when its address was.
func open(ctx context.Context, tx pgx.Tx, now time.Time, o Opening, hash string, proven *time.Time) (who web.Actor,
	err error) {
	if who.Person, err = newPerson(ctx, tx, now, o, hash, proven); err != nil {
		return who, err
	}
	return openFor(ctx, tx, now, o, who.Person)
}

// newPerson with the name and the address of o.
func newPerson(ctx context.Context, tx pgx.Tx, now time.Time, o Opening, hash string, proven *time.Time) (uuid.UUID,
	error) {
	id, mail := db.NewID(), normal(o.Mail)
	if err := db.Set(ctx, tx, "zt.mail", mail); err != nil {
		return id, err
	}
	tag, err := tx.Exec(ctx, `insert into people (id, mail, name, password_hash, created_at, verified_at)
		values ($1, $2, $3, $4, $5, $6) on conflict (mail) do nothing`, id, mail, strings.TrimSpace(o.Name), hash, now,
		proven)
	if err == nil && tag.RowsAffected() == 0 {
		err = invalid.At("mail", reason.Of("account.there-account-with-this-address"))
	}
	return id, err
}

// openFor a person who has an account.
func openFor(ctx context.Context, tx pgx.Tx, now time.Time, o Opening, person uuid.UUID) (who web.Actor, err error) {
	who = web.Actor{Person: person, Kitchen: db.NewID(), Role: web.Owner}
	if err := db.Set(ctx, tx, "zt.kitchen", who.Kitchen.String()); err != nil {
		return who, err
	}
	c := o.proposed()
	if c.Currency != o.Currency { // no figure is known in it
		c.Hourly, c.Overhead = "0", "0"
	}
	if _, err := tx.Exec(ctx, `insert into kitchens (id, name, time_zone, currency, units, cup, created_at, law,
		country, clock, dates, degrees, hourly_rate, overhead_rate)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13::text::numeric, $14::text::numeric)`,
		who.Kitchen, o.Kitchen, o.TimeZone, o.Currency, c.Units, c.Cup, now, string(c.Law), o.Country, c.Clock,
		c.Dates, c.Degrees, c.Hourly, c.Overhead); err != nil {
		return who, err
	}
	for n, s := range treat.Spots() {
		if _, err := tx.Exec(ctx, `insert into spots (kitchen_id, id, name, celsius, trays, n)
		values ($1, $2, $3, $4, $5, $6)`, who.Kitchen, s.ID, s.Name, s.Celsius, s.Trays, n); err != nil {
			return who, err
		}
	}
	return who, join(ctx, tx, now, who)
}

func (a *Accounts) create(ctx context.Context, in *struct{ Body Opening }) (*struct{ Body Session }, error) {
	if a.mails() {
		return a.askToOpen(ctx, in.Body)
	}
	who, err := Open(ctx, a.Pool, a.Clock(), in.Body)
	if err != nil {
		return nil, err
	}
	return a.arrive(ctx, who)
}

// askToOpen a kitchen: it is opened by the link of a letter. Whether the address has an account already is told to that
// address alone, and takes as long to find out.
func (a *Accounts) askToOpen(ctx context.Context, o Opening) (*struct{ Body Session }, error) {
	if err := o.check(); err != nil {
		return nil, err
	}
	hash, err := hashed(ctx, o.Password)
	if err != nil {
		return nil, err
	}
	o.Password = ""
	mail := normal(o.Mail)
	err = db.Begin(ctx, a.Pool, func(tx pgx.Tx) error {
		person, err := personAt(ctx, tx, mail)
		switch {
		case err != nil:
			return err
		case person != nil:
			return a.write(ctx, tx, letter{Kind: letterKnown, Mail: mail,
				Facts: facts{Opening: &Opening{Country: o.Country, TimeZone: o.TimeZone}}})
		}
		return a.write(ctx, tx, letter{Kind: letterOpen, Mail: mail, Facts: facts{Opening: &o, Hash: hash}})
	})
	return &struct{ Body Session }{Session{Now: a.Clock(), Mails: true, Mailed: true, Demo: a.demo}}, err
}
