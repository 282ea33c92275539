// Package server joins the parts of the program behind one listener.
package server

import (
	"fmt"
	"os"
	"strconv"
)

// Config is how the program is set from outside.
type Config struct {
	Port        int    // PORT
	Data        string // CHRYSAGON_DATA
	DatabaseURL string // DATABASE_URL; empty: our own server
	Demo        bool
}

// FromEnv reads the settings, or says which one is wrong.
func FromEnv() (Config, error) {
	c := Config{Port: 8080, Data: ".data", DatabaseURL: os.Getenv("DATABASE_URL")}
	if text := os.Getenv("PORT"); text != "" {
		n, err := strconv.Atoi(text)
		if err != nil || n < 1 || n > 65535 {
			return c, fmt.Errorf("PORT is %q; it must be a number from 1 to 65535", text)
		}
		c.Port = n
	}
	if text := os.Getenv("CHRYSAGON_DATA"); text != "" {
		c.Data = text
	}
	return c, nil
}
