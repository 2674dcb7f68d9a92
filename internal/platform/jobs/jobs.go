// Package jobs is what is done later or in the background, by River: a job is put into its queue in the transaction
// that causes it, so that it is there exactly when what causes it is. A job names its kitchen and works through that
// kitchen's door; when something is due it asks the application's clock, not the machine's.
package jobs

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"math/rand/v2"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/riverqueue/river"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"
	"github.com/riverqueue/river/rivertype"

	"zestytin/internal/platform/clock"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Job is what is put into a queue. It is stored as JSON: ids alone, no word of any person.
type Job interface {
	Kind() string
	Who() web.Actor // the zero value: of no kitchen
}

// args are a job as River wants it.
type args[T Job] struct{ Job T }

func (a args[T]) Kind() string { return a.Job.Kind() }

// Set of all jobs that there are.
type Set struct {
	pool    *pgxpool.Pool
	clock   clock.Clock
	workers *river.Workers
	queues  map[string]river.QueueConfig
	rounds  []*river.PeriodicJob
	insert  map[string]func(Job) river.JobArgs

	once   sync.Once
	client *river.Client[pgx.Tx]
	failed error
}

// New is a set of no jobs.
func New(pool *pgxpool.Pool, c clock.Clock) *Set {
	return &Set{pool: pool, clock: c, workers: river.NewWorkers(), queues: map[string]river.QueueConfig{},
		insert: map[string]func(Job) river.JobArgs{}}
}

// Way in which a kind of job is done.
type Way struct {
	Queue    string        // of its own, so that it holds up no other; empty: the common one
	AtATime  int           // at most, of its queue; 0: four
	Longest  time.Duration // that one may take; 0: a minute
	Attempts int           // where it fails; 0: ten, later and later
	Once     bool          // while one with the same words waits, no other is put in
}

// Add a kind of job. Its context carries who it is for.
func Add[T Job](s *Set, way Way, do func(context.Context, T) error) {
	if way.Queue == "" {
		way.Queue = river.QueueDefault
	}
	if way.AtATime == 0 {
		way.AtATime = 4
	}
	s.queues[way.Queue] = river.QueueConfig{MaxWorkers: way.AtATime}
	river.AddWorker(s.workers, &worker[T]{set: s, way: way, do: do})
	var zero T
	s.insert[zero.Kind()] = func(j Job) river.JobArgs { return optioned[T]{args[T]{j.(T)}, way} }
}

// optioned is a job with the ways of its kind.
type optioned[T Job] struct {
	args[T]
	way Way
}

func (o optioned[T]) InsertOpts() river.InsertOpts {
	to := river.InsertOpts{Queue: o.way.Queue, MaxAttempts: o.way.Attempts}
	if to.MaxAttempts == 0 {
		to.MaxAttempts = 10
	}
	if o.way.Once {
		to.UniqueOpts = river.UniqueOpts{ByArgs: true, ByState: []rivertype.JobState{rivertype.JobStateAvailable,
			rivertype.JobStatePending, rivertype.JobStateRetryable, rivertype.JobStateRunning,
			rivertype.JobStateScheduled}}
	}
	return to
}

// worker does the jobs of a kind.
type worker[T Job] struct {
	river.WorkerDefaults[args[T]]
	set *Set
	way Way
	do  func(context.Context, T) error
}

func (w *worker[T]) Timeout(*river.Job[args[T]]) time.Duration { return w.way.Longest }

func (w *worker[T]) Work(ctx context.Context, job *river.Job[args[T]]) error {
	ctx = web.WithWho(ctx, job.Args.Job.Who())
	err := w.do(ctx, job.Args.Job)
	var wait notYet
	switch {
	case errors.As(err, &wait):
		// A clock that stands still never comes there: it is looked at again, but not all the time.
		return river.JobSnooze(min(max(time.Time(wait).Sub(w.set.clock()), time.Second), time.Hour))
	case db.Crossed(err), errors.Is(err, db.ErrBusy): // others were in its way; nothing of it was done
		return river.JobSnooze(time.Second + rand.N(time.Second))
	}
	return err
}

// notYet is when a job is to be done.
type notYet time.Time

func (n notYet) Error() string { return "not before " + time.Time(n).Format(time.RFC3339) }

// NotBefore is what a job returns that is not due before a time of the application's clock: it is done again then.
func NotBefore(at time.Time) error { return notYet(at) }

// Every so often a job is put in, by one of the servers, whichever of them leads.
func (s *Set) Every(interval time.Duration, j Job) {
	s.rounds = append(s.rounds, river.NewPeriodicJob(river.PeriodicInterval(interval),
		func() (river.JobArgs, *river.InsertOpts) { return s.insert[j.Kind()](j), nil },
		&river.PeriodicJobOpts{RunOnStart: true}))
}

func (s *Set) queue() (*river.Client[pgx.Tx], error) {
	s.once.Do(func() {
		s.client, s.failed = river.NewClient(riverpgxv5.New(s.pool), &river.Config{Queues: s.queues, Workers: s.workers,
			PeriodicJobs: s.rounds, Logger: slog.New(quiet{slog.Default().Handler()}), ID: uuid.NewString(),
			CompletedJobRetentionPeriod: 10 * time.Minute, RescueStuckJobsAfter: 10 * time.Minute})
	})
	return s.client, s.failed
}

// Put a job into its queue in a transaction, to be done when the application's clock is at; the zero time: at once.
func (s *Set) Put(ctx context.Context, tx pgx.Tx, j Job, at time.Time) error {
	client, err := s.queue()
	if err != nil {
		return err
	}
	make, known := s.insert[j.Kind()]
	if !known {
		return fmt.Errorf("nobody does jobs of kind %q", j.Kind())
	}
	var to *river.InsertOpts
	if wait := at.Sub(s.clock()); !at.IsZero() && wait > 0 {
		to = &river.InsertOpts{ScheduledAt: time.Now().Add(wait)}
	}
	_, err = client.InsertTx(ctx, tx, make(j), to)
	return err
}

// Start doing jobs, until Stop.
func (s *Set) Start(ctx context.Context) error {
	client, err := s.queue()
	if err != nil {
		return fmt.Errorf("begin with what is done in the background: %w", err)
	}
	return client.Start(ctx)
}

// Stop: what was begun is finished first, while ctx lasts.
func (s *Set) Stop(ctx context.Context) error {
	if s.client == nil {
		return nil
	}
	err := s.client.Stop(ctx)
	if errors.Is(err, context.DeadlineExceeded) {
		hard, cancel := context.WithTimeout(context.WithoutCancel(ctx), 5*time.Second)
		defer cancel()
		return s.client.StopAndCancel(hard)
	}
	return err
}

// quiet leaves out what River says of its ordinary day.
type quiet struct{ slog.Handler }

func (q quiet) Enabled(ctx context.Context, level slog.Level) bool {
	return level >= slog.LevelWarn && q.Handler.Enabled(ctx, level)
}

// untold are what errors say that tell nothing new: the server is being stopped; or the database does not answer, which
// is told once by whoever listens to it, not every second by each queue.
var untold = []string{context.Canceled.Error(), "failed to connect to", "SQLSTATE 57P"}

// Handle what is worth telling.
func (q quiet) Handle(ctx context.Context, r slog.Record) error {
	known := false
	r.Attrs(func(a slog.Attr) bool {
		known = slices.ContainsFunc(untold, func(says string) bool { return strings.Contains(a.Value.String(), says) })
		return !known
	})
	if known {
		return nil
	}
	return q.Handler.Handle(ctx, r)
}

func (q quiet) WithAttrs(a []slog.Attr) slog.Handler { return quiet{q.Handler.WithAttrs(a)} }
func (q quiet) WithGroup(name string) slog.Handler   { return quiet{q.Handler.WithGroup(name)} }
