package demo

import (
	m "chrysagon/core/manuscript"
	"chrysagon/core/style"
)

func piece(id, kind string, fields m.Fields) m.Piece {
	return m.Piece{ID: id, Kind: kind, Fields: fields}
}

func col(width int, pieces ...m.Piece) m.Column { return m.Column{Width: width, Pieces: pieces} }

func pages() []page {
	return []page{sales(), upsell(), thankYou()}
}

func legal(id string) m.Band {
	return m.Band{ID: id, Name: "Legal footer", Tone: m.Paper, Columns: []m.Column{col(1, piece(id+"-p", "legal", m.Fields{}))}}
}

func sales() page {
	perk := func(icon, title, text string) any {
		return map[string]any{"icon": icon, "title": title, "text": text}
	}
	said := func(words, who, where string) any {
		return map[string]any{"words": words, "who": who, "where": where}
	}
	return page{
		id: "night-flight", name: "Night flight", purpose: "sales", address: "night-flight",
		title:       "Ember 180: the kite that flies by night",
		description: "A kite that carries its own lantern, sewn on the coast where the night wind never rests. A quarter off until Lantern Friday.",
		tree: m.Page{Version: m.Version, Bands: []m.Band{
			{ID: "opening", Name: "Opening", Beat: m.Attention, Tone: m.Night, Look: style.Look{"scene": "lantern-night"}, Columns: []m.Column{
				col(1,
					piece("headline", "heading", m.Fields{"text": "Fly the dark. Thirty grams of light, one steady line", "level": "1"}),
					piece("sub", "text", m.Fields{"text": "A kite that carries its own lantern, sewn on the coast where the night wind never rests.", "look": "lead"}),
					piece("go", "button", m.Fields{"label": "Send me my lantern kite", "target": "checkout"}),
					piece("go-price", "price", m.Fields{"product": "ember", "saving": "none"})),
			}},
			{ID: "kite", Name: "The kite", Beat: m.Interest, Tone: m.Card, Columns: []m.Column{
				col(7, piece("kite-pic", "picture", m.Fields{"picture": "ember", "shape": "framed"})),
				col(5,
					piece("kite-name", "heading", m.Fields{"text": "Ember 180, with lantern and line", "level": "2"}),
					piece("kite-text", "text", m.Fields{"text": "One metre eighty from tip to tip, ripstop in four ambers, and a lantern no heavier than a letter. It rises in four knots and still holds in eighteen.", "look": "copy"}),
					piece("kite-price", "price", m.Fields{"product": "ember", "saving": "both"}),
					piece("kite-go", "button", m.Fields{"label": "Send me my lantern kite", "target": "checkout"})),
			}},
			{ID: "hurry", Name: "Timer", Beat: m.Interest, Tone: m.Paper, Columns: []m.Column{
				col(1, piece("timer", "timer", m.Fields{"caption": "Lantern week ends on Lantern Friday", "deadline": fridayID, "then": "hide"})),
			}},
			{ID: "why", Name: "Why", Beat: m.Desire, Tone: m.Card, Columns: []m.Column{
				col(1,
					piece("why-head", "heading", m.Fields{"text": "Made for people who go out when others go in", "level": "2"}),
					piece("why-perks", "perks", m.Fields{"items": []any{
						perk("wind", "Rises in four knots, holds in eighteen", "Light air or a stiff breeze, one bridle."),
						perk("moon-stars", "Twelve hours of light from one charge", "A soft amber that does not dazzle the flyer."),
						perk("tool", "Mended free, for as long as you fly it", "Send it back from anywhere; we sew, you fly."),
					}})),
			}},
			{ID: "voices", Name: "Voices", Beat: m.Desire, Tone: m.Night, Columns: []m.Column{col(1, piece("voices-said", "testimonials", m.Fields{"items": []any{
				said("We let it up after supper and nobody spoke for a quarter of an hour. My son asked whether the star was ours.", "Rita Sol", "who flies off the north mole"),
				said("Up on the first pull, in a wind I had given up on.", "Bruno Garvin", ""),
				said("The line came wound, the lantern charged. Ten minutes from parcel to sky.", "Nora Kestrel", ""),
			}}))}},
			{ID: "order", Name: "Checkout", Beat: m.Action, Tone: m.Paper, Columns: []m.Column{
				col(1,
					piece("order-head", "heading", m.Fields{"text": "Yours before the frost", "level": "2"}),
					piece("order-form", "checkout", m.Fields{"product": "ember", "button": "Order and pay", "bumps": []any{map[string]any{"product": "lantern-cell", "text": "Twelve more hours of light in your pocket."}}, "deadline": fridayID, "after": "sell"})),
			}},
			legal("legal"),
		}},
	}
}

func upsell() page {
	return page{
		id: "quiver-bag", name: "Quiver bag", purpose: "upsell", address: "quiver-bag",
		title: "One thing more for your kite", description: "",
		tree: m.Page{Version: m.Version, Bands: []m.Band{
			{ID: "u-open", Name: "One thing more", Beat: m.Desire, Tone: m.Card, Columns: []m.Column{
				col(5, piece("u-pic", "picture", m.Fields{"picture": "bag", "shape": "framed"})),
				col(7,
					piece("u-thanks", "text", m.Fields{"text": "Your order is placed and paid. Before it is packed:", "look": "lead"}),
					piece("u-head", "heading", m.Fields{"text": "Carry three kites in one hand", "level": "1"}),
					piece("u-text", "text", m.Fields{"text": "The quiver bag takes the Ember, a second kite and a third, with pockets for line and cells. Added now, it travels in the same parcel.", "look": "copy"}),
					piece("u-price", "price", m.Fields{"product": "quiver", "saving": "both"}),
					piece("u-answer", "answer", m.Fields{"product": "quiver", "accept": "Yes, add the quiver bag", "decline": "No, thank you, only my order"})),
			}},
			legal("u-legal"),
		}},
	}
}

func thankYou() page {
	return page{
		id: "thank-you", name: "Thank you", purpose: "thank_you", address: "thank-you",
		title: "Thank you for your order", description: "",
		tree: m.Page{Version: m.Version, Bands: []m.Band{
			{ID: "t-open", Name: "Thank you", Beat: m.Action, Tone: m.Card, Columns: []m.Column{
				col(7,
					piece("t-head", "heading", m.Fields{"text": "Thank you. It is yours", "level": "1"}),
					piece("t-receipt", "receipt", m.Fields{"help": "No mail after ten minutes? Look in your spam folder for our name."})),
				col(5, piece("t-pic", "picture", m.Fields{"picture": "dunes", "shape": "framed"})),
			}},
			{ID: "t-sent", Name: "If it is sent", Beat: m.Interest, Tone: m.Paper, Only: m.OnlySent, Columns: []m.Column{col(1,
				piece("t-sent-head", "heading", m.Fields{"text": "Your kite is being packed"}),
				piece("t-sent-text", "text", m.Fields{"text": "It leaves the workshop within two working days."}))}},
			{ID: "t-fetched", Name: "If it is collected", Beat: m.Interest, Tone: m.Paper, Only: m.OnlyCollected, Columns: []m.Column{col(1,
				piece("t-fetched-head", "heading", m.Fields{"text": "It lies ready in the workshop"}),
				piece("t-fetched-text", "text", m.Fields{"text": "Come by when you like, Tuesday to Saturday."}))}},
			{ID: "t-taken", Name: "If it is downloaded", Beat: m.Interest, Tone: m.Paper, Only: m.OnlyDownloaded, Columns: []m.Column{col(1,
				piece("t-taken-head", "heading", m.Fields{"text": "Your plans are ready"}),
				piece("t-taken-text", "text", m.Fields{"text": "They stand above, beside their name. Print them at full size."}))}},
			{ID: "t-more", Name: "For light wind", Beat: m.Desire, Tone: m.Paper, Columns: []m.Column{
				col(1,
					piece("t-more-head", "heading", m.Fields{"text": "For days with hardly any wind"}),
					piece("t-more-shelf", "shelf", m.Fields{"shelf": "light-wind", "show": "4"})),
			}},
			legal("t-legal"),
		}},
	}
}
