package routes

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"chrysagon/app/routes"
	"chrysagon/core/chart"
	"chrysagon/core/check"
	"chrysagon/core/forecast"
	"chrysagon/core/money"
	"chrysagon/core/route"
)

// drawn is the map, ready to be written as SVG.
type drawn struct {
	Wide, High int
	Steps      []stepView
	Lines      []lineView
	Bars       []barView
	Sources    []sourceView
	Posts      []postView
	Fits       bool // all of it is seen at once
}

type stepView struct {
	chart.Place
	ID, Name, Second, Kind, What string // Second: the rest of a long name
	Count, Unit                  string
	Falls                        string
	FallsWide                    int
	Chosen                       bool
	Outside                      bool
	Worst                        string // how grave the gravest fault here is
	Faults                       string
	Marks                        []mark // the silhouette of its page
	CX, NameY, KindY             int
	Straight                     string // who came here from no other step
	OnTo, From                   string // steps to the right and left, to be walked to
}

type lineView struct {
	chart.Line
	Width    string
	Tone     string // yes, no, out
	Words    string
	Tip      string
	WordWide int
	Route    string
	Outcome  route.Outcome
	None     bool // nobody took it
}

type barView struct {
	chart.Bar
	Parts []barPart
	Words string
	Width string
	WordX int
	WordY int
	Wide  int
}

type barPart struct {
	Y, H, N int
	Share   string
	Really  string
}

type sourceView struct {
	Name, Count, Path, Width string
	X, Y                     int
}

const (
	stepWide, stepHigh = 76, 96
	mapWide            = 1232
	atOnce             = 12 // so many steps are seen at once; more are scrolled
	forkWide           = 84 // what a fork's bar adds to the room between two layers
)

// thousands writes a number with commas.
func thousands(n int64) string {
	s := strconv.FormatInt(n, 10)
	for i := len(s) - 3; i > 0 && s[i-1] != '-'; i -= 3 {
		s = s[:i] + "," + s[i:]
	}
	return s
}

// per is a share in per cent with as many digits as it bears; of nobody a dash.
func per(part, whole int64) string {
	if whole == 0 {
		return "–"
	}
	if p := float64(part) * 100 / float64(whole); p < 10 && part > 0 {
		return strconv.FormatFloat(p, 'f', 1, 64) + "%"
	}
	return strconv.FormatInt((200*part+whole)/(2*whole), 10) + "%"
}

// graphOf is a funnel as a chart takes it, with its forks as such or as single ways. A
// way's key is that of its route and, behind a stroke, the place of its target.
func graphOf(f route.Funnel, forks bool) (nodes []chart.Node, edges []chart.Edge) {
	for _, s := range f.Steps {
		nodes = append(nodes, chart.Node{ID: s.ID, Last: s.Kind.Ends(), DX: s.DX, DY: s.DY})
	}
	for _, r := range f.Routes {
		for i, to := range r.Targets() {
			e := chart.Edge{From: r.From, To: to, Key: r.Key() + "|" + strconv.Itoa(i)}
			if forks && r.Forks() {
				e.Fork = r.Key()
			}
			edges = append(edges, e)
		}
	}
	return nodes, edges
}

// wayOf is the route that a line is drawn for.
func wayOf(f route.Funnel, l chart.Line) route.Route {
	return routeOf(f, l.Key[:strings.LastIndex(l.Key, "|")])
}

// draw lays the map out and writes on it what came of it, or what is foretold.
func draw(m routes.Map, l looking, out forecast.Output, w routes.WhatIf) drawn {
	nodes, edges := graphOf(m.Funnel, true)
	came := cameOf(m)
	left := 40
	if len(came) > 0 {
		left = 150
	}
	forks := map[int]bool{}
	first := chart.Draw(nodes, edges, chart.Size{Wide: stepWide, High: stepHigh, PitchX: 100, PitchY: 100})
	layers := 1
	for _, p := range first.Places {
		layers = max(layers, p.Layer+1)
	}
	for _, b := range first.Bars {
		p, _ := first.Place(b.From)
		forks[p.Layer] = true
	}
	pitch := 240
	if layers > 1 {
		pitch = min(max((mapWide-left-stepWide-44-len(forks)*forkWide)/(layers-1), 138), 240)
	}
	c := chart.Draw(nodes, edges, chart.Size{Wide: stepWide, High: stepHigh, PitchX: pitch, Fork: forkWide, PitchY: 188, Left: left, Top: 56, Right: 44, Bottom: 74})
	d := drawn{Wide: max(c.Wide, mapWide), High: max(c.High, 300)}
	d.Fits = d.Wide <= mapWide || len(m.Funnel.Steps) <= atOnce
	told := tellerOf(m, l, out)
	d.steps(m, l, c, told)
	d.lines(m, c, told)
	d.bars(m, c, told, w)
	d.sources(came, c)
	d.posts(m, c)
	return d
}

func (d *drawn) steps(m routes.Map, l looking, c chart.Chart, told teller) {
	for i, s := range m.Funnel.Steps {
		p := c.Places[i]
		v := stepView{Place: p, ID: s.ID, Kind: routeKind(s, m), Chosen: s.ID == l.Step, Outside: s.Kind == route.Outside, CX: p.X + stepWide/2, NameY: p.Y + stepHigh + 18, Marks: silhouette(m, s, p.X, p.Y)}
		v.Name, v.Second = broken(s.Name)
		v.KindY = v.NameY + 16
		if v.Second != "" {
			v.KindY += 15
		}
		v.Count, v.Unit = told.count(s)
		v.Falls = told.falls(s)
		v.FallsWide = 8 * len(v.Falls)
		var says []string
		for _, f := range m.Faults {
			if f.StepID == s.ID {
				says = append(says, f.What)
				if v.Worst == "" || f.Gravity == check.Stops {
					v.Worst = map[check.Gravity]string{check.Stops: "stops", check.Mend: "mend", check.Notice: "know"}[f.Gravity]
				}
			}
		}
		v.Faults = strings.Join(says, "\n")
		for _, r := range m.Funnel.Routes {
			for _, to := range r.Targets() {
				if r.From == s.ID && v.OnTo == "" {
					v.OnTo = to
				}
				if to == s.ID && v.From == "" {
					v.From = r.From
				}
			}
		}
		d.Steps = append(d.Steps, v)
	}
}

// broken breaks a long name in two lines.
func broken(name string) (string, string) {
	const most = 17
	if len([]rune(name)) <= most {
		return name, ""
	}
	words, first := strings.Fields(name), ""
	for len(words) > 0 && len([]rune(first+" "+words[0])) <= most+1 {
		first = strings.TrimSpace(first + " " + words[0])
		words = words[1:]
	}
	if first == "" {
		return string([]rune(name)[:most]) + "…", ""
	}
	rest := strings.Join(words, " ")
	if r := []rune(rest); len(r) > most+2 {
		rest = strings.TrimSpace(string(r[:most+1])) + "…"
	}
	return first, rest
}

// routeKind is a step's kind in a few words.
func routeKind(s route.Step, m routes.Map) string {
	said := s.Kind.Title()
	if about, ok := m.About[s.ID]; ok && about.Price > 0 && s.Kind.Offers() {
		said += " " + money.Of(about.Price, m.Currency).String()
	}
	if s.Kind == route.Sales {
		said = "sales, checkout on it"
	}
	return said
}

func (d *drawn) lines(m routes.Map, c chart.Chart, told teller) {
	most := told.most()
	for _, line := range c.Lines {
		r := wayOf(m.Funnel, line)
		n := told.way(r, line.To)
		v := lineView{Line: line, Route: r.Key(), Outcome: r.Outcome, Width: thick(n, most), Tone: "yes", None: n == 0}
		switch {
		case r.Outcome == route.Declined || r.Outcome == route.Clicked(route.No):
			v.Tone = "no"
		case r.Outcome.Name() != "" && r.Outcome.Name() != route.Yes:
			v.Tone = "out"
		}
		to, _ := m.Funnel.Step(line.To)
		from, _ := m.Funnel.Step(line.From)
		v.Tip = fmt.Sprintf("%s: who %s goes to %s, %s", from.Name, r.Outcome.Who(), to.Name, told.said(n))
		if line.Fork == "" {
			v.Words = r.Outcome.Did()
			if len(m.Funnel.From(r.From, r.Outcome)) > 1 {
				if len(r.When) > 0 {
					v.Words = "if"
				}
				v.Words += " " + told.rate(r, n)
			} else {
				v.Words += " " + told.rate(r, -1)
			}
			v.WordWide = 13*len([]rune(v.Words))/2 + 12
		}
		d.Lines = append(d.Lines, v)
	}
	d.words(c)
}

// words puts each line's words where they lie on as little else as can be: along its
// first bend, which runs as x does, and y by its smooth step.
func (d *drawn) words(c chart.Chart) {
	type box struct{ x1, y1, x2, y2 int }
	over := func(a, b box) int {
		return max(0, min(a.x2, b.x2)-max(a.x1, b.x1)) * max(0, min(a.y2, b.y2)-max(a.y1, b.y1))
	}
	var taken []box
	for i, p := range c.Places {
		name := 4 * len([]rune(d.Steps[i].Name))
		taken = append(taken, box{p.X, p.Y, p.X + stepWide, p.Y + stepHigh}, box{p.X + stepWide/2 - name, p.Y + stepHigh + 4, p.X + stepWide/2 + name, p.Y + stepHigh + 38}, box{p.X - 10, p.Y - 36, p.X + stepWide + 10, p.Y - 2})
	}
	for i := range d.Lines {
		l := &d.Lines[i]
		if l.Words == "" || l.Back {
			continue
		}
		least := -1
		for _, t := range []float64{0.5, 0.4, 0.6, 0.3, 0.7, 0.2, 0.8} {
			x := l.X1 + int(t*float64(l.BendX-l.X1))
			y := l.Y1 + int((3*t*t-2*t*t*t)*float64(l.BendY-l.Y1))
			for _, off := range []int{0, -14, 14} {
				b := box{x - l.WordWide/2, y + off - 10, x + l.WordWide/2, y + off + 10}
				cost := abs(off) * 4
				for _, o := range taken {
					cost += over(b, o)
				}
				if least < 0 || cost < least {
					least, l.WordX, l.WordY = cost, x, y+off
				}
			}
		}
		taken = append(taken, box{l.WordX - l.WordWide/2, l.WordY - 11, l.WordX + l.WordWide/2, l.WordY + 11})
	}
}

func abs(n int) int { return max(n, -n) }

func routeOf(f route.Funnel, key string) route.Route {
	i := slices.IndexFunc(f.Routes, func(r route.Route) bool { return r.Key() == key })
	if i < 0 {
		return route.Route{}
	}
	return f.Routes[i]
}

// thick is how thick a line is: by its traffic, on a scale on which the thinnest is
// still seen.
func thick(n, most float64) string {
	if n <= 0 || most <= 0 {
		return "1.5"
	}
	return strconv.FormatFloat(math.Max(1.8, 17*n/most), 'f', 1, 64)
}

func (d *drawn) bars(m routes.Map, c chart.Chart, told teller, w routes.WhatIf) {
	for _, b := range c.Bars {
		r := routeOf(m.Funnel, b.Fork)
		sum, went := 0, 0.0
		for _, s := range r.Fork {
			sum += shareAs(r, s.To, s.Share, w)
			went += told.way(r, s.To)
		}
		v := barView{Bar: b, Words: r.Outcome.Did() + " " + told.rate(r, -1), Width: thick(went, told.most()), WordX: b.X + chart.BarWide, WordY: b.Y - 10}
		v.Wide = 13*len([]rune(v.Words))/2 + 12
		y := b.Y
		for i, s := range r.Fork {
			share := shareAs(r, s.To, s.Share, w)
			h := b.H / len(r.Fork)
			if sum > 0 {
				h = b.H * share / sum
			}
			if i == len(r.Fork)-1 {
				h = b.Y + b.H - y
			}
			v.Parts = append(v.Parts, barPart{Y: y, H: h, N: i, Share: strconv.Itoa(share), Really: told.part(told.way(r, s.To), went)})
			y += h
		}
		d.Bars = append(d.Bars, v)
	}
}

func shareAs(r route.Route, to string, share int, w routes.WhatIf) int {
	if n, tried := w.Shares[routes.ShareKey(r, to)]; tried {
		return n
	}
	return share
}

// cameOf are the sources as they are drawn: the six greatest, the others together.
func cameOf(m routes.Map) []routes.Came {
	var list []routes.Came
	for _, c := range m.Figures.Came {
		if _, there := m.Funnel.Step(c.Landing); there {
			list = append(list, c)
		}
	}
	slices.SortStableFunc(list, func(a, b routes.Came) int { return cmp.Compare(b.Visitors, a.Visitors) })
	if len(list) > 6 {
		rest := routes.Came{Source: "others", Landing: list[5].Landing}
		for _, c := range list[5:] {
			rest.Visitors += c.Visitors
		}
		list = append(list[:5:5], rest)
	}
	return list
}

func (d *drawn) sources(came []routes.Came, c chart.Chart) {
	straight := map[string]int64{} // to steps further in, where no line from the left could be followed
	var first []routes.Came
	most := 1.0
	for _, s := range came {
		most = math.Max(most, float64(s.Visitors))
		if p, _ := c.Place(s.Landing); p.Layer > 0 {
			straight[s.Landing] += s.Visitors
		} else {
			first = append(first, s)
		}
	}
	for i, s := range d.Steps {
		if n := straight[s.ID]; n > 0 {
			d.Steps[i].Straight = "↘ " + thousands(n) + " came straight here"
		}
	}
	slices.SortStableFunc(first, func(a, b routes.Came) int {
		p, _ := c.Place(a.Landing)
		q, _ := c.Place(b.Landing)
		return cmp.Compare(p.Y, q.Y)
	})
	// Around the steps they lead to, and apart from each other.
	floor := 30
	for i, s := range first {
		p, _ := c.Place(s.Landing)
		mine, before := 0, 0
		for j, t := range first {
			if t.Landing == s.Landing {
				mine++
				if j < i {
					before++
				}
			}
		}
		y := max(p.Y+stepHigh/2+(2*before-mine+1)*24, floor)
		floor = y + 44
		into := p.Y + stepHigh*(before+1)/(mine+1)
		d.Sources = append(d.Sources, sourceView{
			Name: shortened(s.Source, 15), Count: thousands(s.Visitors), X: 100, Y: y, Width: thick(float64(s.Visitors), most*1.3),
			Path: fmt.Sprintf("M108 %d C%d %d %d %d %d %d", y, 108+(p.X-108)/2, y, p.X-(p.X-108)/2, into, p.X, into),
		})
		d.High = max(d.High, y+40)
	}
}

func shortened(name string, most int) string {
	if r := []rune(name); len(r) > most {
		return string(r[:most-1]) + "…"
	}
	return name
}

// sources are the names of all sources that can be looked at alone.
func sources(m routes.Map) []string {
	var out []string
	for _, c := range m.Figures.Came {
		if !slices.Contains(out, c.Source) {
			out = append(out, c.Source)
		}
	}
	slices.Sort(out)
	return out
}

// drawSmall draws a map without numbers, to be chosen from.
func drawSmall(f route.Funnel) drawn {
	nodes, edges := graphOf(f, false)
	c := chart.Draw(nodes, edges, chart.Size{Wide: 30, High: 38, PitchX: 78, PitchY: 66, Left: 8, Top: 8, Right: 8, Bottom: 12})
	d := drawn{Wide: 400, High: c.High}
	for i, s := range f.Steps {
		d.Steps = append(d.Steps, stepView{Place: c.Places[i], ID: s.ID, Name: s.Name, Kind: string(s.Kind)})
	}
	for _, l := range c.Lines {
		v := lineView{Line: l, Tone: "yes"}
		if wayOf(f, l).Outcome == route.Declined {
			v.Tone = "no"
		}
		d.Lines = append(d.Lines, v)
	}
	return d
}
