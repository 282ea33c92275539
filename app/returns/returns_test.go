package returns_test

import (
	"bytes"
	"context"
	"net"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"chrysagon/app/ports"
	"chrysagon/core/bounce"
	"chrysagon/core/mailing"
	"chrysagon/gateway/smtp"
	"chrysagon/internal/testkit"
	"chrysagon/standin/letterbox"

	"github.com/jhillyerd/enmime/v2"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// post is the use cases with the demo's lists, and a letterbox between which and them all
// goes by SMTP, there and back.
type post struct {
	*testkit.Cases
	box *letterbox.Box
	ctx context.Context
	t   *testing.T
}

func open(t *testing.T) *post {
	t.Helper()
	c := testkit.UseLists(t)
	ctx, cancel := context.WithCancel(context.Background())
	t.Cleanup(cancel)
	c.Exec("UPDATE lists SET confirmed = false")
	require.NoError(t, letterbox.StandIn.Migrate(ctx, c.Store))
	back := &smtp.Returns{Domain: "returns.gustwell.example", Known: c.Returns.Known, Take: c.Returns.Take}
	box := &letterbox.Box{Store: c.Store, Clock: c.Clock.Now, Returns: listen(t, ctx, back.Serve)}
	sender, err := smtp.New(smtp.Server{Address: listen(t, ctx, box.Serve), Name: "gustwell.example"})
	require.NoError(t, err)
	c.Ports.Post, c.Ports.Returns = sender, back.Domain
	return &post{c, box, ctx, t}
}

func listen(t *testing.T, ctx context.Context, serve func(context.Context, net.Listener) error) string {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	go func() { _ = serve(ctx, l) }()
	return l.Addr().String()
}

func (p *post) join(email string) { p.JoinList("the-guide", email) }

// send sends what is due, and has the letterbox send back what it owes.
func (p *post) send() {
	p.t.Helper()
	_, err := p.Postroom.SendDue(p.ctx)
	require.NoError(p.t, err)
	require.NoError(p.t, p.box.Report(p.ctx))
}

func (p *post) arrived(email string) int64 {
	return p.Number("SELECT count(*) FROM letterbox.messages WHERE receiver = $1", email)
}

func (p *post) why(email string) string {
	p.t.Helper()
	shop, err := p.Store.Shop(p.ctx)
	require.NoError(p.t, err)
	var why string
	require.NoError(p.t, p.Store.On(p.ctx).Raw("SELECT coalesce((SELECT why FROM hushed WHERE hush = ?), '')", mailing.Hush(shop.SealKey, email)).Scan(&why).Error)
	return why
}

// Each way in which a mailbox behaves, and what the store makes of it.
func TestMailboxesBehave(t *testing.T) {
	for _, m := range letterbox.Manners {
		t.Run(m.Word, func(t *testing.T) {
			p := open(t)
			email := "ines+" + m.Word + "@readers.example"
			p.join(email)
			p.send()
			first := p.arrived(email)
			for range 12 { // days, in which the guide and the follow-up's letters are due
				p.Clock.Advance(9 * time.Hour)
				p.send()
			}
			n, why := p.arrived(email), p.why(email)
			left := p.Number("SELECT count(*) FROM postings WHERE sent_at IS NULL AND dropped = ''")
			assert.Zero(t, left, "each was sent, or is said why it is not")
			switch m.Word {
			case "gone", "returns":
				assert.Zero(t, n)
				assert.Equal(t, "gone", why)
				require.NoError(t, p.Returns.Lift(p.ctx, email))
				assert.Empty(t, p.why(email), "the owner may try again")
				require.Error(t, p.Returns.Lift(p.ctx, email))
			case "full":
				assert.Zero(t, n)
				assert.Empty(t, why, "the mailbox may be emptied")
				assert.Equal(t, int64(3), p.Number("SELECT count(*) FROM returns WHERE posting_id = (SELECT min(id) FROM postings WHERE kind = 'letter' AND tries = 3)"), "tried three times, some hours apart")
			case "late":
				assert.Positive(t, n)
				assert.Equal(t, "does not have yet", p.Text("SELECT CASE kind WHEN 'late' THEN 'does not have yet' END FROM returns LIMIT 1"))
				assert.Empty(t, why)
			case "complains":
				assert.Equal(t, int64(1), n, "the first is the last")
				assert.Equal(t, "complained", why)
				require.Error(t, p.Returns.Lift(p.ctx, email), "only they may take it back")
			case "defers":
				assert.Zero(t, first)
				assert.Positive(t, n)
				assert.Equal(t, n, p.Number("SELECT count(DISTINCT message_id) FROM letterbox.messages WHERE receiver = $1", email))
				assert.Empty(t, why)
			case "picky":
				assert.Zero(t, n)
				assert.Empty(t, why, "it says nothing of the address")
			default:
				t.Fatal("what follows from this is not known")
			}
		})
	}
}

// An order's mail to an address that is gone is told on the order and tried no more; what is
// about orders still goes to who complained.
func TestAnOrdersMailComesBack(t *testing.T) {
	p := open(t)
	p.Exec("UPDATE orders SET email = 'ines+gone@readers.example' WHERE id = (SELECT id FROM orders WHERE state = 'paid' ORDER BY id LIMIT 1)")
	p.Exec(`INSERT INTO mails (id, order_id, payment_id, sender, subject) SELECT 'm1', o.id, y.id, 'x', 'Your order' FROM orders o JOIN payments y ON y.order_id = o.id WHERE o.email LIKE 'ines+gone%' LIMIT 1`)
	require.NoError(t, p.OrderMail.Deliver(p.ctx, "m1"))
	assert.Contains(t, p.Text("SELECT refused FROM mails WHERE id = 'm1'"), "no such mailbox")
	assert.Equal(t, "gone", p.why("ines+gone@readers.example"))
	list, counts, err := p.Returns.Lately(p.ctx, 10)
	require.NoError(t, err)
	assert.Equal(t, 1, counts[bounce.ForGood])
	require.Len(t, list, 1)
	assert.Equal(t, "ines+gone@readers.example", list[0].Email)
	assert.NotEmpty(t, list[0].OrderID)
	require.NoError(t, p.OrderMail.Deliver(p.ctx, "m1"), "it is not tried again")
}

// Nobody can say of a letter what no server said, nor have mail carried on.
func TestForgedReportsChangeNothing(t *testing.T) {
	p := open(t)
	p.join("ines@readers.example")
	p.Clock.Advance(48 * time.Hour)
	p.send()
	id := p.Text("SELECT id FROM postings WHERE sent_at IS NOT NULL LIMIT 1")
	shop, err := p.Store.Shop(p.ctx)
	require.NoError(t, err)
	report := []byte("Content-Type: multipart/report; report-type=delivery-status; boundary=b\r\n\r\n--b\r\nContent-Type: message/delivery-status\r\n\r\nReporting-MTA: dns; x\r\n\r\nAction: failed\r\nStatus: 5.1.1\r\n\r\n--b--\r\n")
	for _, local := range []string{"r-" + id + "-0000000000000000", id, "postmaster", "", mailing.Back([]byte("other"), id), "complaints"} {
		require.NoError(t, p.Returns.Take(p.ctx, local, report))
		known, err := p.Returns.Known(p.ctx, local)
		require.NoError(t, err)
		assert.Equal(t, local == "complaints", known, local)
	}
	assert.Zero(t, p.Number("SELECT count(*) FROM returns"))
	for _, harmless := range []string{"", "\x00\xff", "Subject: hello\r\n\r\nI am away.", "Content-Type: multipart/report; boundary=b\r\n\r\n--b", strings.Repeat("a", 100_000)} {
		require.NoError(t, p.Returns.Take(p.ctx, mailing.Back(shop.SealKey, id), []byte(harmless)))
	}
	assert.Zero(t, p.Number("SELECT count(*) FROM returns"))
	for range 3 { // in any case; a report that comes again is one
		require.NoError(t, p.Returns.Take(p.ctx, strings.ToUpper(mailing.Back(shop.SealKey, id)), report))
	}
	assert.Equal(t, int64(1), p.Number("SELECT count(*) FROM returns"))
	require.NoError(t, p.Returns.Take(p.ctx, mailing.Back(shop.SealKey, "gone"), report), "of a letter that was erased")

	// What is said of a letter while it is being sent comes again.
	p.Exec("DELETE FROM returns")
	p.Exec("UPDATE postings SET sent_at = NULL, taken_until = $1 WHERE id = $2", p.Clock.Now().Add(time.Minute), id)
	require.Error(t, p.Returns.Take(p.ctx, mailing.Back(shop.SealKey, id), report))
}

// Letters parse with an independent reader of MIME (enmime) as they were written, whatever
// the person is called.
func TestLettersParseElsewhere(t *testing.T) {
	names := []string{
		"Ines", "عمر بن الخطاب", "李雷 🪁", `"Bobby" <b@x.example>`, "a\r\nBcc: all@readers.example", "=?utf-8?q?x?=", strings.Repeat("é", 10_000), "", "x\u202eevil", "<script>alert(1)</script>",
	}
	p := open(t)
	for i, name := range names {
		l := ports.Letter{
			ID: "n" + string(rune('0'+i)), FromName: name, From: "hello@gustwell.example", To: "ines@readers.example", ReplyTo: "answers@gustwell.example",
			Subject: name, Text: name + "\n.\nend", HTML: "<p>the same</p>", Unsubscribe: "http://shop.example/letters/x/off",
			Files: []ports.File{{Name: "ticket.ics", Type: "text/calendar", Content: []byte("BEGIN:VCALENDAR\r\n")}},
		}
		require.NoError(t, p.Mail.Send(p.ctx, l), "%.40q", name)
		var raw []byte
		require.NoError(t, p.Store.Pool.QueryRow(p.ctx, "SELECT raw FROM letterbox.messages ORDER BY id DESC LIMIT 1").Scan(&raw))
		e, err := enmime.ReadEnvelope(bytes.NewReader(raw))
		require.NoError(t, err)
		assert.Empty(t, e.Errors, "%.40q", name)
		to, err := e.AddressList("To")
		require.NoError(t, err)
		require.Len(t, to, 1)
		assert.Equal(t, "ines@readers.example", to[0].Address)
		from, err := e.AddressList("From")
		require.NoError(t, err, "%.40q", name)
		require.Len(t, from, 1)
		assert.Equal(t, "hello@gustwell.example", from[0].Address)
		assert.Empty(t, e.GetHeader("Bcc"))
		assert.Equal(t, "<http://shop.example/letters/x/off>", e.GetHeader("List-Unsubscribe"))
		assert.Equal(t, "<"+l.ID+"@gustwell.example>", e.GetHeader("Message-ID"))
		if !strings.ContainsAny(name, "\r\n") && !strings.HasPrefix(name, "=?") { // an encoded word is read as what it says
			assert.Equal(t, strings.Join(strings.Fields(name), " "), strings.TrimSpace(e.GetHeader("Subject")), "%.40q", name)
			assert.Equal(t, name+"\n.\nend", strings.ReplaceAll(strings.TrimRight(e.Text, "\r\n"), "\r\n", "\n"), "%.40q", name)
		}
		assert.Contains(t, e.HTML, "the same")
		require.Len(t, e.Attachments, 1)
		for line := range bytes.SplitSeq(raw, []byte("\r\n")) {
			assert.LessOrEqual(t, len(line), 998, "RFC 5322, 2.1.1")
		}
	}
}

// While the mail server is away, what is due waits, and goes once it is back: each once, to
// everybody.
func TestAServerThatIsAway(t *testing.T) {
	p := open(t)
	shut := func(away string) {
		req := httptest.NewRequestWithContext(p.ctx, http.MethodPost, "/away", strings.NewReader("away="+away))
		req.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		answer, err := p.box.App().Test(req)
		require.NoError(t, err)
		require.NoError(t, answer.Body.Close())
		require.Equal(t, http.StatusSeeOther, answer.StatusCode)
	}
	for _, name := range []string{"ana", "bruno", "clara"} {
		p.join(name + "@readers.example")
	}
	p.Clock.Advance(24 * time.Hour)
	shut("yes")
	p.send()
	assert.Zero(t, p.Number("SELECT count(*) FROM letterbox.messages"))
	p.Clock.Advance(time.Hour)
	p.send()
	shut("no")
	p.Clock.Advance(3 * time.Hour)
	p.send()
	assert.Equal(t, int64(3), p.Number("SELECT count(*) FROM letterbox.messages"))
	assert.Equal(t, int64(3), p.Number("SELECT count(DISTINCT message_id) FROM letterbox.messages"))
}
