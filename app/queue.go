package app

import (
	"context"
	"errors"
	"fmt"
	"time"

	"chrysagon/store"

	"github.com/riverqueue/river"
	"github.com/riverqueue/river/riverdriver/riverdatabasesql"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"
	"gorm.io/gorm"
)

// Queue puts a job into the queue within the transaction that causes it.
type Queue struct{ inserter }

// Put puts a job in; it is worked on once the transaction has committed.
func (q Queue) Put(tx *gorm.DB, job river.JobArgs) error { return q.insert(tx, job) }

// NewQueue makes the queue in PostgreSQL, for putting jobs in.
func NewQueue(s *store.Store) (Queue, error) {
	client, err := river.NewClient(riverdatabasesql.New(s.SQL), &river.Config{})
	if err != nil {
		return Queue{}, fmt.Errorf("prepare the job queue: %w", err)
	}
	return Queue{inserter{client.InsertTx}}, nil
}

// SendMail is the job that sends one mail of an order.
type SendMail struct {
	MailID string `json:"mail_id"`
}

// Kind names the job in the queue.
func (SendMail) Kind() string { return "send_mail" }

// ReconcileArgs is the job that looks after unsettled payments.
type ReconcileArgs struct{}

// Kind names the job in the queue.
func (ReconcileArgs) Kind() string { return "reconcile" }

type mailWorker struct {
	river.WorkerDefaults[SendMail]
	app *App
}

// Work sends the mail.
func (w *mailWorker) Work(ctx context.Context, job *river.Job[SendMail]) error {
	return w.app.Deliver(ctx, job.Args.MailID)
}

type leadWorker struct {
	river.WorkerDefaults[SendLead]
	app *App
}

// Work sends the message.
func (w *leadWorker) Work(ctx context.Context, job *river.Job[SendLead]) error {
	return w.app.DeliverLead(ctx, job.Args.LeadID)
}

type reconcileWorker struct {
	river.WorkerDefaults[ReconcileArgs]
	app *App
}

// Work looks after unsettled payments, and brings the price ledger up to now.
func (w *reconcileWorker) Work(ctx context.Context, _ *river.Job[ReconcileArgs]) error {
	_, err := w.app.Reconcile(ctx)
	return errors.Join(err, w.app.KeepLedger(ctx), w.app.ForgetChanges(ctx))
}

// Work runs the jobs until the context ends.
func (a *App) Work(ctx context.Context) error {
	workers := river.NewWorkers()
	river.AddWorker(workers, &mailWorker{app: a})
	river.AddWorker(workers, &reconcileWorker{app: a})
	river.AddWorker(workers, &leadWorker{app: a})
	client, err := river.NewClient(riverpgxv5.New(a.Store.Pool), &river.Config{
		Queues:  map[string]river.QueueConfig{river.QueueDefault: {MaxWorkers: 8}},
		Workers: workers,
		Logger:  a.Log,
		PeriodicJobs: []*river.PeriodicJob{river.NewPeriodicJob(
			river.PeriodicInterval(15*time.Second),
			func() (river.JobArgs, *river.InsertOpts) { return ReconcileArgs{}, nil },
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
