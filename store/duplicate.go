package store

import (
	"errors"

	"gorm.io/gorm"
)

// IsDuplicate tells whether an error says that what must be there once is there already.
func IsDuplicate(err error) bool {
	var state interface{ SQLState() string }
	return errors.Is(err, gorm.ErrDuplicatedKey) || (errors.As(err, &state) && state.SQLState() == "23505")
}
