package account

import (
	"context"
	"fmt"
	"net/url"
	"regexp"
	"slices"
	"strings"
	"time"
	"unicode"

	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/message"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/core/treat"
	"zestytin/internal/platform/web"
)

// Settings is the kitchen's own numbers.
type Settings struct {
	Name       string      `json:"name"`
	TimeZone   string      `json:"timeZone"`
	Currency   string      `json:"currency"`
	Units      string      `json:"units" enum:"us,metric"`
	Hourly     price.Typed `json:"hourly" doc:"For an hour of hands, decimal"`
	Overhead   price.Typed `json:"overhead" doc:"Heat, light and wear for an hour, decimal"`
	Margin     float64     `json:"margin" doc:"Share of a price that is to be left over, 0 to 0.9"`
	Confidence float64     `json:"sureness" doc:"How sure the count of good pieces is to be, 0.5 to 0.999"`
	AirTemp    float64     `json:"room" doc:"Temperature of the kitchen, C"`
	Altitude   float64     `json:"altitude" doc:"Height of the kitchen above the sea, m"`
	// Boiling is better than the altitude: it corrects for weather and thermometer as well.
	Boiling  *float64         `json:"boiling,omitempty" doc:"What the seller's own thermometer shows in plain boiling water, C"`
	Terms    price.Terms      `json:"terms"`
	Source   chocolate.Source `json:"source" enum:"microwave,bath" doc:"What chocolate is melted with, where a treat does not say"`
	Cup      string           `json:"cup" enum:"us,metric,imperial" doc:"What a bare cup in a recipe is: 236.6, 250 or 284 mL"`
	Law      food.Law         `json:"law" enum:"us,eu" doc:"By which allergens are declared"`
	Shopping []int            `json:"shopping" doc:"Weekdays on which one shops, 0 is Sunday; none: on any"`
	Customs
	Address string `json:"address" maxLength:"300" doc:"Of the kitchen, as labels and quotes tell it; empty where none is told"`
	Shown
	Kept   int    `json:"customersKept,omitempty" minimum:"0" maximum:"120" doc:"Months after their last handover for which customers are known; then they are forgotten, and what was made and paid stays. 0: until somebody forgets them"`
	Public string `json:"public" maxLength:"200" doc:"Where customers reach the kitchen, such as https://sweets.example: quotes and calendars are linked there; empty: as the page was opened"`
}

// Shown is how a kitchen shows itself to its customers, beside its name and address.
type Shown struct {
	Sender        string `json:"sender,omitempty" maxLength:"100" doc:"Whom mail comes from; empty: the kitchen, by its name"`
	ReplyTo       string `json:"replyTo,omitempty" maxLength:"200" doc:"Where replies go, and what cannot be delivered; empty: to the owner"`
	TaxStatement  string `json:"taxStatement,omitempty" maxLength:"300" doc:"Stands on quotes and invoices, such as a tax number, or why no tax is charged"`
	HomeStatement string `json:"homeStatement,omitempty" maxLength:"300" doc:"Stands on labels and quotes, where local rules ask for a sentence about home kitchens"`
	Logo          bool   `json:"logo,omitempty" readOnly:"true" doc:"It has one"`
}

func (s *Shown) check(f *invalid.Faults) {
	for path, text := range map[string]*string{"sender": &s.Sender, "taxStatement": &s.TaxStatement,
		"homeStatement": &s.HomeStatement} {
		*text = strings.Join(strings.Fields(*text), " ")
		if strings.ContainsFunc(*text, func(r rune) bool { return !unicode.IsPrint(r) }) {
			f.Add(path, reason.Of("account.letters-that-cannot-be-printed"))
		}
	}
	s.ReplyTo = strings.TrimSpace(s.ReplyTo)
	if s.ReplyTo == "" {
		return
	}
	var err error
	if s.ReplyTo, err = message.Reach(message.Mail, s.ReplyTo, ""); err != nil {
		f.Add("replyTo", reason.Of("account.write-where-replies-go"))
	}
}

// Customs are how a kitchen reads what it is told, beside its units.
type Customs struct {
	Country string `json:"country" doc:"ISO 3166; empty where nobody has said"`
	Clock   int    `json:"clock" enum:"12,24"`
	Dates   string `json:"dates" enum:"dmy,mdy,ymd" doc:"The order in which a date is written in figures"`
	Degrees string `json:"degrees" enum:"C,F"`
}

var isoCountry = regexp.MustCompile(`^([A-Z]{2})?$`)

func (c Customs) check(f *invalid.Faults) {
	if !isoCountry.MatchString(c.Country) {
		f.Add("country", reason.Of("account.not-a-country", reason.Name(c.Country)))
	}
	if c.Clock != 12 && c.Clock != 24 {
		f.Add("clock", reason.Of("account.choose-a-clock"))
	}
	if !slices.Contains([]string{"dmy", "mdy", "ymd"}, c.Dates) {
		f.Add("dates", reason.Of("account.choose-an-order-of-dates"))
	}
	if c.Degrees != "C" && c.Degrees != "F" {
		f.Add("degrees", reason.Of("account.choose-degrees"))
	}
}

// Weekdays on which one shops.
func (k Settings) Weekdays() []time.Weekday {
	days := make([]time.Weekday, len(k.Shopping))
	for i, d := range k.Shopping {
		days[i] = time.Weekday(d)
	}
	return days
}

// BoilsAt is the temperature in C at which water boils in the kitchen, by the seller's own thermometer or the altitude.
func (k Settings) BoilsAt() float64 {
	if k.Boiling != nil {
		return *k.Boiling
	}
	return treat.BoilingPoint(k.Altitude)
}

// Load the kitchen of the transaction.
func Load(ctx context.Context, tx pgx.Tx) (Settings, int, error) {
	var k Settings
	var revision int
	var margin decimal.Decimal
	err := tx.QueryRow(ctx, `select name, time_zone, currency, units, hourly_rate::text, overhead_rate::text,
			margin::text, sureness, room_celsius, altitude, boiling, terms, shopping_days, source, law, cup, country,
			clock, dates, degrees, address, public_address, customers_kept, sender, reply_to, tax_statement,
			home_statement, exists (select from logos), revision from kitchens`).
		Scan(&k.Name, &k.TimeZone, &k.Currency, &k.Units, &k.Hourly, &k.Overhead, &margin, &k.Confidence, &k.AirTemp,
			&k.Altitude, &k.Boiling, &k.Terms, &k.Shopping, &k.Source, &k.Law, &k.Cup, &k.Country, &k.Clock, &k.Dates,
			&k.Degrees, &k.Address, &k.Public, &k.Kept, &k.Sender, &k.ReplyTo, &k.TaxStatement,
			&k.HomeStatement, &k.Logo, &revision)
	k.Margin = margin.InexactFloat64()
	return k, revision, err
}

// Rates for the estimate.
func (k Settings) Rates() price.Rates {
	return price.Rates{Currency: k.Currency, Hourly: decimal.RequireFromString(string(k.Hourly)),
		Overhead: decimal.RequireFromString(string(k.Overhead)), Margin: decimal.NewFromFloat(k.Margin)}
}

// Zone of the kitchen. A zone that the machine does not know any more counts as UTC.
func (k Settings) Zone() *time.Location {
	zone, err := time.LoadLocation(k.TimeZone)
	if err != nil {
		return time.UTC
	}
	return zone
}

func (k *Settings) check() error {
	var f invalid.Faults
	words(&f, "name", k.Name, reason.Of("account.name-the-kitchen"))
	k.Shown.check(&f)
	place(&f, k.TimeZone, k.Currency)
	for path, text := range map[string]price.Typed{"hourly": k.Hourly, "overhead": k.Overhead} {
		if _, err := price.Read(text, k.Currency); err != nil {
			f.Add(path, err)
		}
	}
	if !(k.Margin >= 0 && k.Margin <= 0.9) {
		f.Add("margin", reason.Of("account.margin-share-price-between-and"))
	}
	if !(k.Confidence >= 0.5 && k.Confidence <= 0.999) {
		f.Add("sureness", reason.Of("account.choose-sureness-between-and-no"))
	}
	if !(k.AirTemp >= 5 && k.AirTemp <= 40) {
		f.Add("room", reason.Of("account.kitchen-temperature-lies-between-and"))
	}
	if !(k.Altitude >= -500 && k.Altitude <= 9000) {
		f.Add("altitude", reason.Of("account.kitchen-lies-between-m-below"))
	}
	if k.Boiling != nil && !(*k.Boiling >= 70 && *k.Boiling <= 110) {
		f.Add("boiling", reason.Of("account.thermometer-in-boiling-water-shows"))
	}
	if !slices.Contains(chocolate.Sources(), k.Source) {
		f.Add("source", reason.Of("account.chocolate-melted-in-microwave-or"))
	}
	if _, known := measure.Cups()[k.Cup]; !known {
		f.Add("cup", reason.Of("account.choose-a-cup"))
	}
	if !slices.Contains(food.Laws(), k.Law) {
		f.Add("law", reason.Of("account.choose-law-by-which-you"))
	}
	k.Customs.check(&f)
	if len([]rune(k.Address)) > 300 {
		f.Add("address", reason.Of("account.address-too-long", reason.Int(300)))
	}
	if k.Public = strings.TrimRight(strings.TrimSpace(k.Public), "/"); k.Public != "" && !IsOrigin(k.Public) {
		f.Add("public", reason.Of("account.not-a-public-address", reason.Name(k.Public)))
	}
	f.Under("terms", k.Terms.Check(k.Currency))
	seen := map[int]bool{}
	for i, d := range k.Shopping {
		if d < 0 || d > 6 || seen[d] {
			f.Add(fmt.Sprintf("shopping[%d]", i), reason.Of("account.weekday-for-sunday-to-for"))
		}
		seen[d] = true
	}
	return f.Err()
}

// IsOrigin tells whether an address is that of a server, with nothing behind it.
func IsOrigin(address string) bool {
	u, err := url.Parse(address)
	return err == nil && (u.Scheme == "https" || u.Scheme == "http") && u.Hostname() != "" && u.User == nil &&
		u.Path == "" && u.RawQuery == "" && u.Fragment == "" && len(address) <= 200
}

func (a *Accounts) kitchen(ctx context.Context, _ *struct{}) (*web.Tagged[Settings], error) {
	var k Settings
	var revision int
	err := a.In(ctx, func(tx pgx.Tx) (err error) {
		k, revision, err = Load(ctx, tx)
		return err
	})
	if web.ActorOf(ctx).Role == web.Maker { // what is no amount, but tells of money all the same
		k.Margin, k.Terms = 0, price.Usual()
	}
	return web.TaggedBy(revision, k), err
}

func (a *Accounts) putKitchen(ctx context.Context, in *struct {
	web.IfMatch
	Handovers string `query:"handovers" enum:"clock,instant" doc:"With another time zone, of the orders that are ahead: clock, two o'clock stays two o'clock; instant, what was two o'clock there is shown as it is here"`
	Body      Settings
}) (*web.Tagged[Settings], error) {
	if err := in.Body.check(); err != nil {
		return nil, err
	}
	var revision int
	err := a.In(ctx, func(tx pgx.Tx) error {
		if err := tx.QueryRow(ctx, `select revision from kitchens for no key update`).Scan(&revision); err != nil {
			return err
		}
		if err := in.Matches(revision, func() (any, error) { k, _, err := Load(ctx, tx); return k, err }); err != nil {
			return err
		}
		before, _, err := Load(ctx, tx)
		if err != nil {
			return err
		}
		if revision, err = in.Body.store(ctx, tx); err != nil || before.TimeZone == in.Body.TimeZone {
			return err
		}
		return a.Rezone(ctx, tx, before.TimeZone, in.Body.TimeZone, in.Handovers)
	})
	return web.TaggedBy(revision, in.Body), err
}

// store the settings, which have been checked, as the next revision.
func (k Settings) store(ctx context.Context, tx pgx.Tx) (revision int, err error) {
	err = tx.QueryRow(ctx, `update kitchens set name = $1, time_zone = $2, currency = $3, units = $4,
			hourly_rate = $5::text::numeric, overhead_rate = $6::text::numeric, margin = $7, sureness = $8,
			room_celsius = $9, altitude = $10, boiling = $11, terms = $12, shopping_days = $13, source = $14, law = $15,
			cup = $16, country = $17, clock = $18, dates = $19, degrees = $20, address = $21, public_address = $22,
			customers_kept = $23, sender = $24, reply_to = $25, tax_statement = $26, home_statement = $27,
			revision = revision + 1 returning revision`,
		k.Name, k.TimeZone, k.Currency, k.Units, k.Hourly, k.Overhead, decimal.NewFromFloat(k.Margin), k.Confidence,
		k.AirTemp, k.Altitude, k.Boiling, k.Terms, k.Shopping, k.Source, k.Law, k.Cup, k.Country, k.Clock, k.Dates,
		k.Degrees, k.Address, k.Public, k.Kept, k.Sender, k.ReplyTo, k.TaxStatement, k.HomeStatement).Scan(&revision)
	return revision, err
}

// Store settings of the kitchen of the transaction, whoever set them; the error is an *invalid.Error where they are
// wrong.
func Store(ctx context.Context, tx pgx.Tx, k Settings) (revision int, err error) {
	if err := k.check(); err != nil {
		return 0, err
	}
	return k.store(ctx, tx)
}

// SetTerms of the kitchen of the transaction, and the weekdays on which one shops.
func SetTerms(ctx context.Context, tx pgx.Tx, t price.Terms, shopping []int) error {
	_, err := tx.Exec(ctx, `update kitchens set terms = $1, shopping_days = $2, revision = revision + 1`, t, shopping)
	return err
}
