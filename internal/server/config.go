// Package server joins the parts of the program behind one listener.
package server

import (
	"fmt"
	"log/slog"
	"net/netip"
	"net/url"
	"os"
	"slices"
	"strconv"
	"strings"
	"time"

	"chrysagon/gateway/smtp"
)

// Config is how the program is set from outside.
type Config struct {
	Port        int
	Data        string
	DatabaseURL string // empty: our own server
	Studio      string
	Shop        string
	Proxies     []netip.Prefix
	Mail        smtp.Server
	Returns     string // domain to which mail servers return letters
	ReturnsPort int    // on 127.0.0.1, where they are taken
	StandIns    []string
	Log         slog.Level    // what is told on the standard error
	Slow        time.Duration // statements that take longer are told of
	Profile     int           // port on 127.0.0.1 where the program can be profiled; 0: none
}

// Setting is one thing that is set by an environment variable.
type Setting struct {
	Name    string // of the variable
	Means   string
	Default string // in words, where it is not a value
	Secret  bool   // its value is not shown
	take    func(c *Config, text string) error
}

// Settings are all of them, in the order in which they are told.
var Settings = []Setting{
	{"PORT", "where to listen, on 127.0.0.1", "8080", false, takePort},
	{"CHRYSAGON_DATA", "folder for everything that is kept", ".data", false, func(c *Config, text string) error { c.Data = text; return nil }},
	{"DATABASE_URL", "a PostgreSQL database to use instead of an own server", "an own server", true, func(c *Config, text string) error { c.DatabaseURL = text; return nil }},
	{"CHRYSAGON_STUDIO", "address under which the studio is reached", "http://localhost:PORT", false, func(c *Config, text string) error { return takeAddress(&c.Studio, text) }},
	{"CHRYSAGON_SHOP", "address under which the shop is reached", "http://shop.localhost:PORT", false, func(c *Config, text string) error { return takeAddress(&c.Shop, text) }},
	{"CHRYSAGON_PROXIES", "addresses or networks of proxies whose X-Forwarded-For is believed, parted by commas", "none", false, takeProxies},
	{"CHRYSAGON_SMTP", "the mail server, such as smtp://user@mail.example:587 or smtps://user@mail.example:465", "none: no mail is sent", false, takeMail},
	{"CHRYSAGON_SMTP_PASSWORD_FILE", "file that holds the password for it", "none", false, takeMailPassword},
	{"CHRYSAGON_RETURNS", "domain of the addresses to which mail servers return what they cannot deliver, such as returns.shop.example; its mail must reach CHRYSAGON_RETURNS_PORT by SMTP", "none: they return it to the store", false, takeReturns},
	{"CHRYSAGON_RETURNS_PORT", "port on 127.0.0.1 where that mail is taken", "2525", false, takeReturnsPort},
	{"LOG", "what is told on the standard error: debug (every request and statement), info, warn or error", "warn", false, takeLog},
	{"CHRYSAGON_SLOW", "statements that take longer are told of, such as 500ms; 0 for none", "500ms", false, takeSlow},
	{"CHRYSAGON_PROFILE", "port on 127.0.0.1 where the running program can be profiled (net/http/pprof)", "none", false, takeProfile},
	{"CHRYSAGON_STANDINS", "stand-ins to run in place of real services, parted by commas: " + strings.Join(StandInNames(), ", "), "none under serve, all under demo", false, takeStandIns},
}

// FromEnv reads the settings, or says which one is wrong.
func FromEnv() (Config, error) {
	c := Config{Port: 8080, ReturnsPort: 2525, Data: ".data", Log: slog.LevelWarn, Slow: 500 * time.Millisecond}
	for _, s := range Settings {
		text := os.Getenv(s.Name)
		if text == "" {
			continue
		}
		if err := s.take(&c, text); err != nil {
			return c, fmt.Errorf("%s is %q; it must be %w", s.Name, text, err)
		}
	}
	if nameOf(c.Studio) != "" && nameOf(c.Studio) == nameOf(c.Shop) {
		return c, fmt.Errorf("CHRYSAGON_STUDIO and CHRYSAGON_SHOP have the same host; cookies of the one would reach the other, so give each a host of its own")
	}
	return c, nil
}

func takePort(c *Config, text string) error {
	n, err := strconv.Atoi(text)
	if err != nil || n < 1 || n > 65535 {
		return fmt.Errorf("a number from 1 to 65535")
	}
	c.Port = n
	return nil
}

func takeAddress(to *string, text string) error {
	u, err := url.Parse(text)
	if err != nil || (u.Scheme != "http" && u.Scheme != "https") || u.Hostname() == "" || u.User != nil || strings.Trim(u.Path, "/") != "" || u.RawQuery != "" || u.Fragment != "" {
		return fmt.Errorf("scheme and host, such as https://shop.example")
	}
	*to = strings.ToLower(u.Scheme + "://" + u.Host)
	return nil
}

func takeProxies(c *Config, text string) error {
	for part := range strings.SplitSeq(text, ",") {
		part = strings.TrimSpace(part)
		if p, err := netip.ParsePrefix(part); err == nil {
			c.Proxies = append(c.Proxies, p.Masked())
			continue
		}
		a, err := netip.ParseAddr(part)
		if err != nil {
			return fmt.Errorf("IP addresses or networks, such as 127.0.0.1, 10.0.0.0/8")
		}
		c.Proxies = append(c.Proxies, netip.PrefixFrom(a, a.BitLen()))
	}
	return nil
}

func takeMail(c *Config, text string) error {
	u, err := url.Parse(text)
	if err != nil || (u.Scheme != "smtp" && u.Scheme != "smtps") || u.Hostname() == "" || strings.Trim(u.Path, "/") != "" {
		return fmt.Errorf("such as smtp://user@mail.example:587")
	}
	if _, has := u.User.Password(); has {
		return fmt.Errorf("without the password, which CHRYSAGON_SMTP_PASSWORD_FILE names a file for")
	}
	port := u.Port()
	if port == "" {
		port = map[string]string{"smtp": "587", "smtps": "465"}[u.Scheme] // RFC 6409, RFC 8314
	}
	c.Mail.Address, c.Mail.User, c.Mail.TLS = u.Hostname()+":"+port, u.User.Username(), u.Scheme == "smtps"
	return nil
}

func takeMailPassword(c *Config, text string) error {
	raw, err := os.ReadFile(text) //nolint:gosec // whoever starts the program says which file
	if err != nil {
		return fmt.Errorf("a file that can be read: %w", err)
	}
	c.Mail.Password = strings.TrimRight(string(raw), "\r\n")
	return nil
}

func takeReturns(c *Config, text string) error {
	if u, err := url.Parse("//" + text); err != nil || u.Host != text || u.Port() != "" || !strings.Contains(text, ".") {
		return fmt.Errorf("a domain, such as returns.shop.example")
	}
	c.Returns = strings.ToLower(text)
	return nil
}

func takeReturnsPort(c *Config, text string) error {
	var of Config
	err := takePort(&of, text)
	c.ReturnsPort = of.Port
	return err
}

func takeLog(c *Config, text string) error {
	if err := c.Log.UnmarshalText([]byte(text)); err != nil {
		return fmt.Errorf("debug, info, warn or error")
	}
	return nil
}

func takeSlow(c *Config, text string) error {
	if text == "0" {
		c.Slow = 0
		return nil
	}
	d, err := time.ParseDuration(text)
	if err != nil || d < 0 {
		return fmt.Errorf("a duration such as 500ms or 2s, or 0")
	}
	c.Slow = d
	return nil
}

func takeProfile(c *Config, text string) error {
	n, err := strconv.Atoi(text)
	if err != nil || n < 1 || n > 65535 {
		return fmt.Errorf("a number from 1 to 65535")
	}
	c.Profile = n
	return nil
}

func takeStandIns(c *Config, text string) error {
	for part := range strings.SplitSeq(text, ",") {
		part = strings.TrimSpace(part)
		if !slices.Contains(StandInNames(), part) {
			return fmt.Errorf("some of %s", strings.Join(StandInNames(), ", "))
		}
		c.StandIns = append(c.StandIns, part)
	}
	return nil
}

// Options are those of a server that is set so.
func (c Config) Options() Options {
	o := Options{Port: c.Port, Studio: c.Studio, Shop: c.Shop, Proxies: c.Proxies, Mail: c.Mail, Returns: c.Returns, ReturnsPort: c.ReturnsPort, StandIns: c.StandIns}
	o.Mail.Name = nameOf(c.Shop)
	return o
}
