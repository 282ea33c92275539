package app

import (
	"context"
	"errors"
	"fmt"
	"time"

	"chrysagon/app/followups"
	"chrysagon/app/mail"
	"chrysagon/app/ordermail"
	"chrysagon/app/orders"
	"chrysagon/app/people"
	"chrysagon/app/relays"

	"github.com/riverqueue/river"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"
)

// ReconcileArgs is the job that looks after unsettled payments.
type ReconcileArgs struct{}

// Kind names the job in the queue.
func (ReconcileArgs) Kind() string { return "reconcile" }

type reconcileWorker struct {
	river.WorkerDefaults[ReconcileArgs]
	app *App
}

// Work looks after unsettled payments, and brings the price ledger up to now.
func (w *reconcileWorker) Work(ctx context.Context, _ *river.Job[ReconcileArgs]) error {
	_, err := w.app.Reconcile(ctx)
	_, told := w.app.Orders.Digest(ctx)
	return errors.Join(err, told, w.app.Prices.KeepLedger(ctx), w.app.Selling.ForgetChanges(ctx), w.app.Selling.ForgetUnfinished(ctx))
}

// Timeout is none: each payment it looks after has its own.
func (w *reconcileWorker) Timeout(*river.Job[ReconcileArgs]) time.Duration { return -1 }

type postWorker struct {
	river.WorkerDefaults[mail.SendPost]
	app *App
}

// Work sends the letters that are due.
func (w *postWorker) Work(ctx context.Context, _ *river.Job[mail.SendPost]) error {
	_, err := w.app.Postroom.SendDue(ctx)
	return errors.Join(err, w.app.Audience.Tell(ctx))
}

// Timeout is none: each letter has its own.
func (w *postWorker) Timeout(*river.Job[mail.SendPost]) time.Duration { return -1 }

type lookUpWorker struct {
	river.WorkerDefaults[followups.LookUp]
	app *App
}

// Work takes up who agreed to letters, before what follows from it, and what begins follow-ups.
// It is no part of sending, which is asked for with each letter that is planned.
func (w *lookUpWorker) Work(ctx context.Context, _ *river.Job[followups.LookUp]) error {
	return errors.Join(w.app.Audience.TakeUp(ctx), w.app.Followups.Gather(ctx))
}

// Timeout is none: each person that is found has their own.
func (w *lookUpWorker) Timeout(*river.Job[followups.LookUp]) time.Duration { return -1 }

type newsWorker struct {
	river.WorkerDefaults[relays.SendNews]
	app *App
}

// Work tells other programs what is due.
func (w *newsWorker) Work(ctx context.Context, _ *river.Job[relays.SendNews]) error {
	_, err := w.app.Relays.Deliver(ctx)
	return err
}

// Timeout is none: each message has its own.
func (w *newsWorker) Timeout(*river.Job[relays.SendNews]) time.Duration { return -1 }

// Reconcile finishes what was left half-way of payments and refunds. It returns
// how many payments it settled.
func (a *App) Reconcile(ctx context.Context) (int, error) {
	settled, err := a.Selling.ReconcilePayments(ctx)
	return settled, errors.Join(err, a.Orders.ReconcileRefunds(ctx))
}

// How long a job that sends something may take, and after how long one that has
// not ended is taken for one whose program was killed.
const (
	sendFor  = 20 * time.Second
	stuckFor = 25 * time.Second
)

// Rescue puts jobs back into the queue that a killed program left half-way, and
// returns how many. The queue's own rescue waits for a new leader first, which
// after a kill can take longer than a buyer should wait for a mail.
func (a *App) Rescue(ctx context.Context) (int64, error) {
	done := a.Store.On(ctx).Exec(`UPDATE river_job SET state = 'available', scheduled_at = now()
		WHERE state = 'running' AND kind NOT IN (?, ?, ?, ?) AND attempted_at < now() - ?::interval`, ReconcileArgs{}.Kind(), mail.SendPost{}.Kind(), followups.LookUp{}.Kind(), relays.SendNews{}.Kind(), stuckFor.String())
	if done.Error != nil {
		return 0, fmt.Errorf("look for stuck jobs: %w", done.Error)
	}
	return done.RowsAffected, nil
}

// Rescuing does so at every tick, until the context ends.
func (a *App) Rescuing(ctx context.Context, tick <-chan time.Time) {
	for {
		if _, err := a.Rescue(ctx); err != nil && ctx.Err() == nil {
			a.Log.Warn("stuck jobs were not looked for", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-tick:
		}
	}
}

// Work runs the jobs until the context ends.
func (a *App) Work(ctx context.Context) error {
	workers := river.NewWorkers()
	river.AddWorker(workers, &reconcileWorker{app: a})
	river.AddWorker(workers, river.WorkFunc(func(ctx context.Context, job *river.Job[ordermail.SendMail]) error {
		return a.OrderMail.Deliver(ctx, job.Args.MailID)
	}))
	river.AddWorker(workers, river.WorkFunc(func(ctx context.Context, job *river.Job[people.SendLead]) error {
		return a.People.DeliverLead(ctx, job.Args.LeadID)
	}))
	river.AddWorker(workers, river.WorkFunc(func(ctx context.Context, job *river.Job[ordermail.TellOwner]) error {
		return a.OrderMail.DeliverToOwner(ctx, job.Args.OrderID)
	}))
	river.AddWorker(workers, river.WorkFunc(func(ctx context.Context, job *river.Job[orders.SendDigest]) error {
		return a.Orders.DeliverDigest(ctx, job.Args)
	}))
	river.AddWorker(workers, &postWorker{app: a})
	river.AddWorker(workers, &lookUpWorker{app: a})
	river.AddWorker(workers, &newsWorker{app: a})
	client, err := river.NewClient(riverpgxv5.New(a.Store.Pool), &river.Config{
		Queues:     map[string]river.QueueConfig{river.QueueDefault: {MaxWorkers: 8}},
		Workers:    workers,
		Logger:     a.Log,
		JobTimeout: sendFor,
		PeriodicJobs: []*river.PeriodicJob{river.NewPeriodicJob(
			river.PeriodicInterval(15*time.Second),
			func() (river.JobArgs, *river.InsertOpts) { return ReconcileArgs{}, nil },
			&river.PeriodicJobOpts{RunOnStart: true},
		), river.NewPeriodicJob(
			river.PeriodicInterval(5*time.Second),
			func() (river.JobArgs, *river.InsertOpts) { return mail.SendPost{}, nil },
			&river.PeriodicJobOpts{RunOnStart: true},
		), river.NewPeriodicJob(
			river.PeriodicInterval(5*time.Second),
			func() (river.JobArgs, *river.InsertOpts) { return followups.LookUp{}, nil },
			&river.PeriodicJobOpts{RunOnStart: true},
		), river.NewPeriodicJob(
			river.PeriodicInterval(3*time.Second),
			func() (river.JobArgs, *river.InsertOpts) { return relays.SendNews{}, nil },
			&river.PeriodicJobOpts{RunOnStart: true},
		)},
	})
	if err != nil {
		return fmt.Errorf("prepare the jobs: %w", err)
	}
	if err := client.Start(ctx); err != nil {
		return fmt.Errorf("start the jobs: %w", err)
	}
	<-ctx.Done()
	<-client.Stopped()
	return nil
}
