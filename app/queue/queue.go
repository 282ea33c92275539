// Package queue puts jobs into the queue in PostgreSQL.
package queue

import (
	"context"
	"database/sql"
	"fmt"

	"chrysagon/store"

	"github.com/riverqueue/river"
	"github.com/riverqueue/river/riverdriver/riverdatabasesql"
	"github.com/riverqueue/river/rivertype"
	"gorm.io/gorm"
)

// inserter joins GORM's transactions to the queue's.
type inserter struct {
	insertTx func(context.Context, *sql.Tx, river.JobArgs, *river.InsertOpts) (*rivertype.JobInsertResult, error)
}

func (i inserter) insert(tx *gorm.DB, job river.JobArgs) error {
	conn, err := store.Conn(tx)
	if err != nil {
		return err
	}
	if _, err := i.insertTx(tx.Statement.Context, conn, job, nil); err != nil {
		return fmt.Errorf("queue a job: %w", err)
	}
	return nil
}

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
