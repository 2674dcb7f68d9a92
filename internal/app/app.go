// Package app wires the rooms of the house together.
package app

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/go-chi/chi/v5/middleware"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/food"
	"zestytin/core/ident"
	corelarder "zestytin/core/larder"
	"zestytin/core/ledger"
	"zestytin/core/measure"
	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/core/temper"
	"zestytin/core/treat"
	"zestytin/internal/account"
	"zestytin/internal/archive"
	"zestytin/internal/bench"
	"zestytin/internal/bring"
	"zestytin/internal/larder"
	"zestytin/internal/orders"
	"zestytin/internal/planning"
	"zestytin/internal/platform/jobs"
	"zestytin/internal/platform/live"
	"zestytin/internal/platform/standin"
	"zestytin/internal/platform/web"
	"zestytin/internal/pots"
	"zestytin/internal/scratch"
	"zestytin/internal/starter"
	"zestytin/internal/till"
	"zestytin/internal/treats"
)

// clientOf tells by which address a request came: of a proxy that is trusted, the one that it names.
func clientOf(proxies []string) func(http.Handler) http.Handler {
	if len(proxies) == 0 {
		return middleware.ClientIPFromRemoteAddr
	}
	return middleware.ClientIPFromXFF(proxies...)
}

// New wires everything together.
func New(o Options) *App {
	sessions := account.NewSessions(o.Pool, o.Secure)
	router, api := web.NewRouter(o.Files, o.Secure, clientOf(o.Proxies), web.Patient(o.Pool),
		account.Limit(o.Pool, o.Secure), sessions.LoadAndSave)
	a := &App{Handler: router, API: api, Jobs: jobs.New(o.Pool, o.Clock),
		Home: web.Base{API: api, Pool: o.Pool, Clock: o.Clock, Gate: web.NewGate()}}
	h := a.Home
	enums(api.OpenAPI().Components.Schemas)
	known := func(ctx context.Context, tx pgx.Tx) (*order.Inputs, error) {
		return a.kitchen(ctx, tx, uuid.Nil, nil, order.Scope{})
	}
	sound := func(ctx context.Context, tx pgx.Tx) error {
		k, err := known(ctx, tx)
		if err != nil {
			return err
		}
		return treats.Sound(ctx, tx, k)
	}
	accounts := account.Register(h, sessions, o.Demo, account.Deps{Rezone: a.rezone, Jobs: a.Jobs, Mailer: o.Mailer,
		Public: o.Public, Fill: o.Fill, May: may, Forget: archive.Forget})
	a.Live = live.NewHub(o.Pool)
	live.Register(h, a.Live, accounts.Still)
	a.Larder = larder.Register(h, larder.Deps{
		Uses:  treats.Uses,
		Sound: sound,
		Wants: a.wants, Context: a.house,
		Reserved: func(ctx context.Context, tx pgx.Tx) ([]corelarder.Want, error) {
			cal, err := a.calendar(ctx, tx)
			if err != nil {
				return nil, err
			}
			reserved, err := planning.Reserved(ctx, tx, cal, uuid.Nil)
			if err != nil {
				return nil, err
			}
			return a.unmade(ctx, tx, reserved)
		},
		Mixtures: a.mixtures,
	})
	a.Archive = archive.Register(h, archive.Deps{Sound: sound, Tell: accounts.TellLeaving})
	book := treats.Register(h, treats.Deps{Known: known, AddIngredient: larder.AddForeign, Names: larder.Names,
		AddSupply: func(ctx context.Context, tx pgx.Tx, s treat.FileSupply) (string, bool, error) {
			return larder.AddForeignSupply(ctx, h, tx, s)
		}})
	a.Plan = planning.Register(h, planning.Deps{Calendar: a.calendar, Ingredients: larder.Ingredients, Jobs: a.Jobs,
		Kitchen: func(ctx context.Context, tx pgx.Tx, pins map[ident.Treat]int) (*order.Inputs, error) {
			return a.kitchen(ctx, tx, uuid.Nil, pins, order.Scope{})
		}})
	scratch.Register(h, scratch.Deps{Ingredients: larder.Ingredients, Names: larder.Names})
	a.Till = till.Register(h, till.Deps{Kitchen: known, Logo: account.Logo,
		Context: func(ctx context.Context, tx pgx.Tx) (till.Context, error) {
			k, _, err := account.Load(ctx, tx)
			if err != nil { // there are no rates to read
				return till.Context{}, err
			}
			return till.Context{Currency: k.Currency, Zone: k.Zone(), Hourly: k.Rates().Hourly, Terms: k.Terms}, err
		},
		Write: func(ctx context.Context, tx pgx.Tx, d order.Draft) error {
			_, err := a.Orders.Write(ctx, tx, d)
			return err
		}})
	a.Orders = orders.Register(h, orders.Deps{Kitchen: a.kitchen, Plan: a.Plan, Turn: a.turn, Pack: a.pack,
		Unpack: func(ctx context.Context, tx pgx.Tx, id uuid.UUID) error { return larder.Unpack(ctx, h, tx, id) },
		Logo:   account.Logo, Settle: a.Till.Settle, Unsettle: a.Till.Unsettle,
		Tell: func(ctx context.Context, tx pgx.Tx, id uuid.UUID) error { return a.Messages.Tell(ctx, tx, id) }})
	bench.Register(h, bench.Deps{Begin: a.Orders.Begin, Turn: a.turn, TurnOwn: a.turnOwn, Spots: planning.Spots,
		Hours: planning.HoursOf(a.calendar), House: zoneAndRoom,
		Heat: func(ctx context.Context, tx pgx.Tx, day string) ([]reason.Reason, error) {
			return a.Drives.Heat(ctx, tx, day)
		}})
	a.Pots = pots.Register(h, pots.Deps{Live: a.Live, House: zoneAndRoom,
		Simulate: func(b temper.Bowl, seed uint64, deeds []temper.Deed) pots.Counter {
			return standin.NewCounter(b, seed, deeds)
		}})
	a.faults()
	a.logbook(book)
	starter.Register(h, a.starter(book, known))
	a.doorstep(&o, router)
	bring.Register(h, bring.Deps{Currency: currencyOf, Treats: namedTreats})
	web.ShareRefusals(api)
	web.Describe(api, account.Shapes(), larder.Shapes(), planning.Shapes(), till.Shapes(), treats.Shapes(),
		orders.Shapes(), bring.Shapes(), Shapes())
	web.Bound(api)
	router.Get("/healthz", func(w http.ResponseWriter, _ *http.Request) { fmt.Fprintln(w, "alive") })
	router.Get("/readyz", func(w http.ResponseWriter, r *http.Request) {
		ctx, cancel := context.WithTimeout(r.Context(), 2*time.Second)
		defer cancel()
		if err := o.Pool.Ping(ctx); err != nil {
			http.Error(w, "The database does not answer.", http.StatusServiceUnavailable)
			return
		}
		fmt.Fprintln(w, "ready")
	})
	return a
}

func (a *App) calendar(ctx context.Context, tx pgx.Tx) (plan.Calendar, error) {
	k, _, err := account.Load(ctx, tx)
	return plan.CalendarFrom(a.Home.Clock(), k.Zone()), err
}

func currencyOf(ctx context.Context, tx pgx.Tx) (string, error) {
	k, _, err := account.Load(ctx, tx)
	return k.Currency, err
}

func namedTreats(ctx context.Context, tx pgx.Tx) ([]bring.Named, error) {
	known, err := treats.Load(ctx, tx, nil)
	list := make([]bring.Named, 0, len(known))
	for _, t := range known {
		list = append(list, bring.Named{ID: uuid.MustParse(string(t.ID)), Name: t.Name})
	}
	slices.SortFunc(list, func(a, b bring.Named) int { return strings.Compare(a.Name, b.Name) })
	return list, err
}

// rezone what stands in the clock of another time zone: work stands on the clock, and handovers as is asked for.
func (a *App) rezone(ctx context.Context, tx pgx.Tx, from, to, handovers string) error {
	if err := a.Orders.Rezone(ctx, tx, from, to, handovers); err != nil {
		return err
	}
	return a.Plan.Settle(ctx, tx)
}

func (a *App) house(ctx context.Context, tx pgx.Tx) (larder.Context, error) {
	k, _, err := account.Load(ctx, tx)
	return larder.Context{Currency: k.Currency, Calendar: plan.CalendarFrom(a.Home.Clock(), k.Zone()),
		Shopping: k.Weekdays()}, err
}

func (a *App) wants(ctx context.Context, tx pgx.Tx, until string) ([]corelarder.Want, error) {
	cal, err := a.calendar(ctx, tx)
	if err != nil {
		return nil, err
	}
	wants, err := planning.Wants(ctx, tx, cal, until)
	if err == nil {
		wants, err = a.unmade(ctx, tx, wants)
	}
	if err != nil {
		return nil, err
	}
	melts, err := a.Plan.Melts(ctx, tx, until)
	if err != nil || len(melts) == 0 {
		return wants, err
	}
	rests, err := larder.Rests(ctx, tx, cal.Date(0))
	if err != nil {
		return nil, err
	}
	known, err := larder.Ingredients(ctx, tx)
	if err != nil {
		return nil, err
	}
	return append(wants, freshFor(melts, rests, known)...), nil
}

// freshFor is what must be in the house for bowls that are still to be melted, beside what is left of others.
func freshFor(melts []planning.Melt, rests []ledger.Rest,
	known map[ident.Ingredient]food.Ingredient) []corelarder.Want {
	bowls := make([]ledger.Melt, len(melts))
	for i := range melts {
		bowls[i] = melts[i].Melt
	}
	ledger.Carry(bowls, rests)
	var wants []corelarder.Want
	for i := range bowls {
		b := &bowls[i]
		for n, part := range b.Parts {
			of := known[part.Of]
			amount, err := measure.Grams(b.FreshPart(n)).In(of.Unit, of.Substance) // a flavour may be counted in pieces
			if err != nil {
				continue // its density has gone since: nothing can be said of it
			}
			wants = append(wants, corelarder.Want{Item: ident.Item(part.Of), Day: b.Day, Used: amount,
				For: strings.Join(melts[i].For, ", ")})
		}
	}
	return wants
}

// turn books what batches of an order took that have been made since, and puts back what those took that no longer are;
// and so with the bowls that are empty or no longer are.
func (a *App) turn(ctx context.Context, tx pgx.Tx, id uuid.UUID) error {
	if err := a.Book(ctx, tx); err != nil {
		return err
	}
	turned, err := planning.UpdateMade(ctx, tx, id, a.Home.Clock())
	if err != nil || len(turned) == 0 {
		return err
	}
	mixtures, err := a.mixtures(ctx, tx)
	if err != nil {
		return err
	}
	for _, t := range turned {
		if !t.Made {
			for _, take := range slices.Backward(t.Takes) {
				if err := larder.ReverseConsumption(ctx, a.Home, tx, take.Order, t.Batch); err != nil {
					return err
				}
			}
			continue
		}
		for _, take := range t.Takes {
			uses := make([]larder.Use, len(take.Needs))
			for i, n := range take.Needs {
				uses[i] = larder.Use{Item: n.Item, Used: n.Used}
			}
			if err := larder.ConsumeForBatch(ctx, a.Home, tx, take.Order, t.Batch, uses, mixtures); err != nil {
				return err
			}
		}
	}
	return nil
}

// Book the bowls that are empty, and take back those that are worked from again.
func (a *App) Book(ctx context.Context, tx pgx.Tx) error {
	over, again, err := a.Plan.Emptied(ctx, tx)
	if err != nil {
		return err
	}
	for _, id := range again {
		if err := larder.Refill(ctx, a.Home, tx, id); err != nil {
			return err
		}
	}
	for _, e := range over {
		if err := larder.Empty(ctx, a.Home, tx, e.ID, e.Melt); err != nil {
			return err
		}
	}
	return nil
}

// pack takes the packaging of an order off the shelf.
func (a *App) pack(ctx context.Context, tx pgx.Tx, id uuid.UUID) error {
	packs, err := planning.Packs(ctx, tx, id)
	if err != nil {
		return err
	}
	return larder.Pack(ctx, a.Home, tx, id, packs)
}

// kitchen gathers what the estimate must know, as much of it as the scope asks for.
func (a *App) kitchen(ctx context.Context, tx pgx.Tx, except uuid.UUID, pins map[ident.Treat]int,
	scope order.Scope) (*order.Inputs, error) {
	own, _, err := account.Load(ctx, tx)
	if err != nil {
		return nil, err
	}
	k := &order.Inputs{Rates: own.Rates(), Terms: own.Terms, Now: a.Home.Clock()}
	k.Confidence, k.AirTemp, k.Boiling, k.Source, k.Law = own.Confidence, own.AirTemp, own.BoilsAt(), own.Source,
		own.Law
	k.Calendar = plan.CalendarFrom(k.Now, own.Zone())
	if k.Ingredients, err = larder.Ingredients(ctx, tx); err != nil {
		return nil, err
	}
	if k.Mixes, err = treats.Mixes(ctx, tx); err != nil {
		return nil, err
	}
	if k.Spots, err = planning.Spots(ctx, tx); err != nil {
		return nil, err
	}
	if k.Treats, err = treats.Load(ctx, tx, pins); err != nil {
		return nil, err
	}
	var items []string // nil: all
	if scope.Lines != nil {
		items = k.Items(scope.Lines)
	}
	reserved, err := planning.Reserved(ctx, tx, k.Calendar, except)
	if err != nil {
		return nil, err
	}
	if k.Stock, k.Supplies, err = larder.Available(ctx, tx, reserved, k.Calendar.Date(0), k.Ingredients,
		items); err != nil {
		return nil, err
	}
	if err := a.ahead(ctx, tx, k, reserved, except); err != nil {
		return nil, err
	}
	if k.Moulds, err = planning.Moulds(ctx, tx); err != nil {
		return nil, err
	}
	if !scope.Until.After(k.Now) {
		return k, nil
	}
	span := planning.Days{From: 0, To: min(k.Calendar.DayOf(scope.Until)+1, planning.Horizon)}
	if scope.From.After(k.Now) {
		span.From = k.Calendar.DayOf(scope.From)
	}
	k.Planning, err = planning.Work(ctx, tx, k, span, except)
	return k, err
}

// Renew what a migration asks for: promised work that has not begun is reckoned again by the rules of this version.
func (a *App) Renew(ctx context.Context) error {
	rows, err := a.Home.Pool.Query(ctx, `select kitchen from ledger_renewals order by kitchen`)
	if err != nil {
		return err
	}
	kitchens, err := pgx.CollectRows(rows, pgx.RowTo[uuid.UUID])
	if err != nil {
		return err
	}
	for _, kitchen := range kitchens {
		ctx := web.WithWho(ctx, web.Actor{Kitchen: kitchen})
		if err := a.Home.In(ctx, func(tx pgx.Tx) error {
			if err := a.Plan.Renew(ctx, tx); err != nil {
				return err
			}
			_, err := tx.Exec(ctx, `delete from ledger_renewals where kitchen = $1`, kitchen)
			return err
		}); err != nil {
			return fmt.Errorf("renew the promised work of kitchen %s: %w", kitchen, err)
		}
	}
	return nil
}

// Document is the OpenAPI document of the application, indented.
func (a *App) Document() ([]byte, error) {
	text, err := json.MarshalIndent(a.API.OpenAPI(), "", " ")
	return append(text, '\n'), err
}
