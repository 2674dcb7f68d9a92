// Package app wires the rooms of the house together.
package app

import (
	"context"
	"encoding/json"
	"fmt"
	"io/fs"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/internal/account"
	"zestytin/internal/bench"
	"zestytin/internal/handover"
	"zestytin/internal/larder"
	"zestytin/internal/orders"
	"zestytin/internal/planning"
	"zestytin/internal/platform/clock"
	"zestytin/internal/platform/web"
	"zestytin/internal/scratch"
	"zestytin/internal/till"
	"zestytin/internal/treats"
)

// Options of the application.
type Options struct {
	Pool   *pgxpool.Pool
	Clock  clock.Clock
	Files  fs.FS           // the built front end
	Secure bool            // cookies over TLS only
	Demo   *account.SignIn // the sign-in that the page offers in demo mode
}

// App is the application.
type App struct {
	http.Handler
	API    huma.API
	Home   web.Home
	Orders *orders.Orders
}

// New wires everything together.
func New(o Options) *App {
	sessions := account.NewSessions(o.Pool, o.Secure)
	router, api := web.NewRouter(o.Files, account.LimitSignIn(o.Pool), sessions.LoadAndSave)
	a := &App{Handler: router, API: api, Home: web.Home{API: api, Pool: o.Pool, Clock: o.Clock}}
	h := a.Home
	known := func(ctx context.Context, tx pgx.Tx) (*order.Kitchen, error) {
		return a.kitchen(ctx, tx, uuid.Nil, nil)
	}
	account.Register(h, sessions, o.Demo)
	larder.Register(h, planning.Reserved, treats.Uses, func(ctx context.Context, tx pgx.Tx) error {
		k, err := known(ctx, tx)
		if err != nil {
			return err
		}
		return treats.Sound(ctx, tx, k)
	})
	treats.Register(h, treats.Needs{Known: known, AddIngredient: larder.AddForeign, AddSupply: larder.AddForeignSupply, Names: larder.Names})
	planning.Register(h, a.calendar)
	scratch.Register(h, scratch.Needs{Ingredients: larder.Ingredients, Names: larder.Names})
	a.Orders = orders.Register(h, orders.Needs{Kitchen: a.kitchen, Plan: planning.Save, Unplan: planning.Drop, Packs: planning.Packs, Book: larder.Book})
	bench.Register(h, a.Orders.Begin)
	handover.Register(h, a.calendar)
	till.Register(h, till.Needs{Kitchen: known, Write: func(ctx context.Context, tx pgx.Tx, d order.Draft) error {
		_, err := a.Orders.Write(ctx, tx, d)
		return err
	}})
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

// kitchen gathers what the reckoning must know.
func (a *App) kitchen(ctx context.Context, tx pgx.Tx, except uuid.UUID, pins map[string]int) (*order.Kitchen, error) {
	own, _, err := account.Load(ctx, tx)
	if err != nil {
		return nil, err
	}
	k := &order.Kitchen{Rates: own.Rates(), Now: a.Home.Clock()}
	k.Sureness, k.Room, k.Boiling = own.Sureness, own.Room, own.BoilsAt()
	k.Calendar = plan.CalendarFrom(k.Now, own.Zone())
	if k.Ingredients, err = larder.Ingredients(ctx, tx); err != nil {
		return nil, err
	}
	if k.Mixes, err = treats.Mixes(ctx, tx); err != nil {
		return nil, err
	}
	if k.Supplies, err = larder.Supplies(ctx, tx); err != nil {
		return nil, err
	}
	reserved, err := planning.Reserved(ctx, tx, except)
	if err != nil {
		return nil, err
	}
	for id, s := range k.Supplies {
		s.Stock = max(s.Stock-reserved[id], 0)
		k.Supplies[id] = s
	}
	if k.Treats, err = treats.Load(ctx, tx, pins); err != nil {
		return nil, err
	}
	if k.Sessions, err = planning.Sessions(ctx, tx, k.Calendar, planning.Horizon); err != nil {
		return nil, err
	}
	k.Taken, err = planning.Taken(ctx, tx, k.Calendar, except)
	return k, err
}

// Document is the OpenAPI document of the application, indented.
func (a *App) Document() ([]byte, error) {
	text, err := json.MarshalIndent(a.API.OpenAPI(), "", " ")
	return append(text, '\n'), err
}
