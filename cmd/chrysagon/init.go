package main

import (
	"bufio"
	"errors"
	"fmt"
	"io"
	"os"
	"strings"
	"time"

	"chrysagon/app/account"
	"chrysagon/internal/server"

	"github.com/spf13/cobra"
	"golang.org/x/term"
)

// initCommand makes an empty store and its owner.
func initCommand() *cobra.Command {
	var b account.Beginning
	var passwordFile string
	c := &cobra.Command{
		Use:   "init",
		Short: "Make an empty store and its owner",
		Long: `Makes an empty store and its owner in a database that has none, asking for what no
flag says. The password is asked for, or read from a file; there is no default.`,
		Example: `  chrysagon init
  chrysagon init --store "Gustwell Kiteworks" --currency EUR --country PT --zone Europe/Lisbon \
    --owner "Marta Venn" --email marta@gustwell.example --password-file password.txt`,
		RunE: func(c *cobra.Command, _ []string) error {
			if err := ask(c.InOrStdin(), c.OutOrStdout(), &b, passwordFile); err != nil {
				return err
			}
			if fault := b.Fault(); fault != "" {
				return badInput{errors.New(fault)}
			}
			config, err := server.FromEnv()
			if err != nil {
				return badInput{err}
			}
			s, stop, err := open(c.Context(), config)
			if err != nil {
				return err
			}
			defer stop()
			if err := s.Migrate(c.Context()); err != nil {
				return err
			}
			if err := account.Begin(c.Context(), s, b, time.Now()); err != nil {
				return err
			}
			_, err = fmt.Fprintf(c.OutOrStdout(), "“%s” is made. Start it with “chrysagon serve”, then sign in as %s.\nTo try it with test cards and a letterbox: CHRYSAGON_STANDINS=till,letterbox chrysagon serve\n", b.Store, b.Email)
			return err
		},
	}
	f := c.Flags()
	f.StringVar(&b.Store, "store", "", "name of the store, as buyers know it")
	f.StringVar(&b.Currency, "currency", "", "three letters of ISO 4217; it never changes")
	f.StringVar(&b.Country, "country", "", "two letters of ISO 3166-1")
	f.StringVar(&b.Zone, "zone", "", "time zone, such as Europe/Lisbon")
	f.StringVar(&b.Owner, "owner", "", "name of the owner")
	f.StringVar(&b.Email, "email", "", "with which the owner signs in")
	f.StringVar(&passwordFile, "password-file", "", "file whose first line is the owner’s password")
	return c
}

// ask asks for what is missing; the password without showing it.
func ask(in io.Reader, out io.Writer, b *account.Beginning, passwordFile string) error {
	lines := bufio.NewReader(in)
	say := func(format string, args ...any) { _, _ = fmt.Fprintf(out, format, args...) } // whoever sees nothing is asked all the same
	for _, q := range []struct {
		to  *string
		say string
	}{
		{&b.Store, "Name of the store, as buyers know it"}, {&b.Currency, "Currency, such as EUR (it never changes)"}, {&b.Country, "Country, such as PT"},
		{&b.Zone, "Time zone, such as Europe/Lisbon"}, {&b.Owner, "Your name"}, {&b.Email, "Your email, to sign in with"},
	} {
		if *q.to != "" {
			continue
		}
		say("%s: ", q.say)
		line, err := lines.ReadString('\n')
		if *q.to = strings.TrimSpace(line); err != nil && *q.to == "" {
			say("\n")
			return badInput{fmt.Errorf("nothing was answered to “%s”; answer it, or give its flag (chrysagon init --help)", q.say)}
		}
	}
	if passwordFile != "" {
		raw, err := os.ReadFile(passwordFile)
		if err != nil {
			return badInput{fmt.Errorf("read the password: %w", err)}
		}
		b.Password, _, _ = strings.Cut(strings.ReplaceAll(string(raw), "\r\n", "\n"), "\n")
		return nil
	}
	file, isFile := in.(*os.File)
	if !isFile || !term.IsTerminal(int(file.Fd())) {
		return badInput{errors.New("there is no terminal to ask for the password at; name a file that holds it with --password-file")}
	}
	var typed [2]string
	for i, question := range []string{"A password of at least 12 characters (not shown): ", "Once more: "} {
		say("%s", question)
		raw, err := term.ReadPassword(int(file.Fd()))
		say("\n")
		if err != nil {
			return fmt.Errorf("read the password: %w", err)
		}
		typed[i] = string(raw)
	}
	if typed[0] != typed[1] {
		return badInput{errors.New("the two passwords differ; nothing was made")}
	}
	b.Password = typed[0]
	return nil
}
