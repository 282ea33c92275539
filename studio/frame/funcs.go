package frame

import (
	"chrysagon/studio/figure"
	"fmt"

	"html/template"
	"net/url"
	"slices"
	"time"

	"chrysagon/app/factbook"
	"chrysagon/core/address"
	"chrysagon/core/check"
	"chrysagon/core/deadline"
	"chrysagon/core/lead"
	"chrysagon/core/money"
	"chrysagon/core/purpose"
	"chrysagon/core/words"
	"chrysagon/store"
)

// funcs are what every view may call.
func (f *Frame) funcs() template.FuncMap {
	return template.FuncMap{
		"tabs": func() []Tab { return f.tabs }, "icon": f.Render.Assets.Icon, "figure": figure.Of, "asset": f.Render.Assets.Path, "picture": thumbnail, "pathescape": url.PathEscape,
		"json": written, "dict": dict, "has": slices.Contains[[]string], "strings": func(l store.StringList) []string { return l },
		"deref": func(p *string) string { return *p }, "orempty": factbook.Deref,
		"plus": func(a, b int) int { return a + b }, "minus": func(a, b int) int { return a - b },
		"times": func(a, b int) int { return a * b }, "mod": func(a, b int) int { return a % b },
		"short": deadline.Short, "full": deadline.Written, "shown": deadline.Shown, "local": local, "daywords": dayWords,
		"hours":   func(d time.Duration) int { return int(d / time.Hour) },
		"minutes": func(d time.Duration) string { return Whole(int(d / time.Minute)) },
		"money":   func(minor int64) string { return money.Of(minor, f.Currency()).String() },
		"moneyp": func(minor *int64) string {
			if minor == nil {
				return ""
			}
			return money.Of(*minor, f.Currency()).String()
		},
		"count": words.Count, "nth": words.Nth, "a": words.A, "leadkind": lead.Words, "country": address.NameOf,
		"purpose": func(name string) string { return purpose.Of(name).Title },
		"gravity": func(g check.Gravity) string {
			return map[check.Gravity]string{check.Stops: "stops", check.Mend: "mend"}[g]
		},
	}
}

// thumbnail is the address of a picture as lists show it.
func thumbnail(p store.Picture) string { return factbook.PicturePath(p) + "?w=320" }

// local is a moment as a field takes it, in a zone.
func local(at time.Time, zone string) string {
	loc, err := time.LoadLocation(zone)
	if err != nil {
		loc = time.UTC
	}
	return deadline.Shown(at.In(loc).Format(deadline.LocalLayout))
}

// dayWords is a date in words; what is none is left as it is.
func dayWords(date string) string {
	at, err := time.Parse(time.DateOnly, date)
	if err != nil {
		return date
	}
	return at.Format("Mon 2 Jan")
}

// Percent writes a share with one digit, or a dash when there is nothing to share.
func Percent(part, whole int64) string {
	if whole == 0 {
		return "–"
	}
	tenths := (2000*part + whole) / (2 * whole) // rounded half up
	return fmt.Sprintf("%d.%d%%", tenths/10, tenths%10)
}
