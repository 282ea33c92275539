package app

import (
	"context"
	"database/sql"
	"fmt"

	"chrysagon/store"

	"github.com/riverqueue/river"
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
