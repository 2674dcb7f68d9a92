package app

import (
	"context"
	"io/fs"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/jackc/pgx/v5/pgxpool"

	"zestytin/core/route"
	"zestytin/internal/account"
	"zestytin/internal/archive"
	"zestytin/internal/customers"
	"zestytin/internal/events"
	"zestytin/internal/handover"
	"zestytin/internal/larder"
	"zestytin/internal/messages"
	"zestytin/internal/orders"
	"zestytin/internal/planning"
	"zestytin/internal/platform/clock"
	"zestytin/internal/platform/jobs"
	"zestytin/internal/platform/live"
	"zestytin/internal/platform/post"
	"zestytin/internal/platform/roads"
	"zestytin/internal/platform/web"
	"zestytin/internal/pots"
	"zestytin/internal/till"
)

// Options of the application.
type Options struct {
	Pool    *pgxpool.Pool
	Clock   clock.Clock
	Files   fs.FS                               // the built front end
	Secure  bool                                // cookies over TLS only
	Proxies []string                            // CIDR prefixes of the proxies that may say whom they ask for; none: nobody may
	Demo    *account.SignIn                     // the sign-in that the page offers in demo mode
	Roads   roads.Map                           // nil: nobody has named any, and ways are estimated
	Weather func(day time.Time) route.Weather   // nil: there is no forecast
	Public  string                              // where people reach this server, such as https://sweets.example; empty: no letters of accounts
	Fill    func(context.Context, string) error // a kitchen for a visitor to try, by its mail; nil: there is none to try
	Mailer  post.Mailer                         // nil: there is no mail server
	Texter  post.Texter                         // nil: nothing sends text messages
}

// App is the application.
type App struct {
	http.Handler
	API    huma.API
	Home   web.Base
	Orders *orders.Orders
	Plan   *planning.Planning
	Larder *larder.Larder
	Till   *till.Till
	Live   *live.Hub
	Jobs   *jobs.Set // what is done in the background, once it is started

	Messages *messages.Messages
	Events   *events.Events
	Drives   *handover.Handover
	Pots     *pots.Pots
	Archive  *archive.Archive

	Customers *customers.Customers
}
