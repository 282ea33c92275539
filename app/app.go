// Package app joins the use cases: each folder below it holds those of one subject,
// with only what they need.
package app

import (
	"log/slog"

	"chrysagon/app/account"
	"chrysagon/app/assortment"
	"chrysagon/app/audience"
	"chrysagon/app/background"
	"chrysagon/app/calendar"
	"chrysagon/app/desk"
	"chrysagon/app/drafts"
	"chrysagon/app/factbook"
	"chrysagon/app/find"
	"chrysagon/app/followups"
	"chrysagon/app/house"
	"chrysagon/app/mail"
	"chrysagon/app/news"
	"chrysagon/app/offers"
	"chrysagon/app/ordermail"
	"chrysagon/app/orders"
	"chrysagon/app/pages"
	"chrysagon/app/people"
	"chrysagon/app/pictures"
	"chrysagon/app/ports"
	"chrysagon/app/postroom"
	"chrysagon/app/publishing"
	"chrysagon/app/queue"
	"chrysagon/app/relays"
	"chrysagon/app/repricing"
	"chrysagon/app/results"
	"chrysagon/app/returns"
	"chrysagon/app/routes"
	"chrysagon/app/selling"
	"chrysagon/app/shelves"
	"chrysagon/app/walks"
	"chrysagon/core/origin"
	"chrysagon/render"
	"chrysagon/store"
)

// With is what the use cases stand on.
type With struct {
	Store   *store.Store
	Render  *render.Renderer
	Ports   *ports.Ports
	Queue   queue.Queue
	Origins *origin.Origins
	Log     *slog.Logger
}

// App is the program's use cases, by subject.
type App struct {
	*ports.Ports
	Store   *store.Store
	Render  *render.Renderer
	Origins *origin.Origins
	Log     *slog.Logger

	Accounts   *account.Accounts
	Audience   *audience.Audience
	Goods      *assortment.Assortment
	Background *background.Work
	Calendar   *calendar.Calendar
	Desk       *desk.Desk
	Drafts     *drafts.Reader
	Facts      *factbook.Reader
	Find       *find.Finder
	Followups  *followups.Keeper
	Guide      *walks.Guide
	House      *house.Keeper
	Mail       *mail.Sender
	News       *news.Hub
	Offers     *offers.Offers
	OrderMail  *ordermail.Writer
	Orders     *orders.Office
	Pages      *pages.Pages
	People     *people.People
	Pictures   *pictures.Library
	Postroom   *postroom.Room
	Prices     *repricing.Keeper
	Publishing *publishing.Publisher
	Relays     *relays.Keeper
	Results    *results.Reader
	Returns    *returns.Keeper
	Routes     *routes.Keeper
	Selling    *selling.Counter
	Shelves    *shelves.Shelves
}

// New joins them, the lower before those that stand on them.
func New(w With) *App {
	a := &App{Ports: w.Ports, Store: w.Store, Render: w.Render, Origins: w.Origins, Log: w.Log}
	a.News = &news.Hub{Store: w.Store, Log: w.Log}
	a.Background = &background.Work{Log: w.Log}
	a.Facts = &factbook.Reader{Store: w.Store, Ports: w.Ports, News: a.News, Log: w.Log}
	a.Drafts = &drafts.Reader{Store: w.Store, Render: w.Render}
	post := &mail.Sender{Store: w.Store, Ports: w.Ports}
	a.Mail, a.Returns = post, &returns.Keeper{Store: w.Store}
	a.Relays = &relays.Keeper{Store: w.Store, Ports: w.Ports}

	a.Prices = &repricing.Keeper{Store: w.Store, Facts: a.Facts, News: a.News}
	a.Pictures = &pictures.Library{Store: w.Store, Render: w.Render, Drafts: a.Drafts, News: a.News}
	a.Shelves = &shelves.Shelves{Store: w.Store, Pictures: a.Pictures, Prices: a.Prices, News: a.News}
	a.Goods = &assortment.Assortment{Store: w.Store, Shelves: a.Shelves, Prices: a.Prices, News: a.News}
	a.Offers = &offers.Offers{Store: w.Store, Facts: a.Facts, Prices: a.Prices, News: a.News}
	a.Calendar = &calendar.Calendar{Store: w.Store, Render: w.Render, Prices: a.Prices, News: a.News}
	a.House = &house.Keeper{Store: w.Store, Facts: a.Facts, Pictures: a.Pictures, News: a.News}
	a.Accounts = &account.Accounts{Store: w.Store, Ports: w.Ports, Log: w.Log}
	a.Find = &find.Finder{Store: w.Store, Goods: a.Goods}

	a.Desk = &desk.Desk{Store: w.Store, Render: w.Render, Drafts: a.Drafts}
	a.Publishing = &publishing.Publisher{Store: w.Store, Render: w.Render, Drafts: a.Drafts, Facts: a.Facts, News: a.News}
	a.Pages = &pages.Pages{Store: w.Store, Render: w.Render, Drafts: a.Drafts, Desk: a.Desk, Facts: a.Facts, Pictures: a.Pictures, News: a.News}
	a.Results = &results.Reader{Store: w.Store, Drafts: a.Drafts, Log: w.Log}

	a.Routes = &routes.Keeper{Store: w.Store, Drafts: a.Drafts, Facts: a.Facts, News: a.News, Pages: a.Pages, Publishing: a.Publishing}
	maker := &mail.Maker{Store: w.Store, Facts: a.Facts, Render: w.Render, Origins: w.Origins}
	a.OrderMail = &ordermail.Writer{Maker: maker, Store: w.Store, Facts: a.Facts, Publishing: a.Publishing, Render: w.Render, Mail: post, Returns: a.Returns, Ports: w.Ports, Queue: w.Queue, Origins: w.Origins}
	a.Guide = &walks.Guide{Store: w.Store, Publishing: a.Publishing}
	a.Selling = &selling.Counter{Guide: a.Guide, Store: w.Store, Render: w.Render, Facts: a.Facts, Publishing: a.Publishing, OrderMail: a.OrderMail, Ports: w.Ports, Origins: w.Origins, Log: w.Log}
	a.Orders = &orders.Office{Store: w.Store, Selling: a.Selling, Facts: a.Facts, OrderMail: a.OrderMail, Mail: post, Ports: w.Ports, Queue: w.Queue, Origins: w.Origins, Log: w.Log}
	a.Followups = &followups.Keeper{Store: w.Store, Queue: w.Queue}
	a.Audience = &audience.Audience{Store: w.Store, Followups: a.Followups, Mail: post, News: a.News, Queue: w.Queue, Origins: w.Origins}
	a.Postroom = &postroom.Room{
		Store: w.Store, Audience: a.Audience, Followups: a.Followups, Drafts: a.Drafts, Facts: a.Facts, Publishing: a.Publishing, Render: w.Render,
		Mail: post, Maker: maker, Returns: a.Returns, Ports: w.Ports, Queue: w.Queue, Origins: w.Origins, Log: w.Log,
	}
	a.People = &people.People{Audience: a.Audience, Store: w.Store, Schema: w.Render.Registry.Schema(), Mail: post, Maker: maker, Ports: w.Ports, Queue: w.Queue, Origins: w.Origins, News: a.News, Log: w.Log}
	return a
}
