package bounce_test

import (
	"fmt"
	"strings"
	"testing"

	"chrysagon/core/bounce"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func wire(text string) []byte { return []byte(strings.ReplaceAll(text, "\n", "\r\n")) }

// The examples of RFC 3464, appendix E, and RFC 5965, appendix B, shortened; their fields
// are written from memory.
const (
	timedOut = `Date: Thu, 7 Jul 1994 17:16:05 -0400
From: Mail Delivery Subsystem <MAILER-DAEMON@CS.UTK.EDU>
MIME-Version: 1.0
Content-Type: multipart/report; report-type=delivery-status;
	boundary="RAA14128.773615765/CS.UTK.EDU"

--RAA14128.773615765/CS.UTK.EDU

The original message was received at Sat, 2 Jul 1994 17:10:28 -0400

--RAA14128.773615765/CS.UTK.EDU
content-type: message/delivery-status

Reporting-MTA: dns; cs.utk.edu

Original-Recipient: rfc822;louisl@larry.slip.umd.edu
Final-Recipient: rfc822;louisl@larry.slip.umd.edu
Action: failed
Status: 4.0.0
Diagnostic-Code: smtp; 426 connection timed out
Last-Attempt-Date: Thu, 7 Jul 1994 17:15:49 -0400

--RAA14128.773615765/CS.UTK.EDU
content-type: message/rfc822

Message-ID: <199407092338.TAA23293@CS.UTK.EDU>
Subject: hello

[original message goes here]
--RAA14128.773615765/CS.UTK.EDU--
`
	unwanted = `From: <abusedesk@example.com>
MIME-Version: 1.0
Content-Type: multipart/report; report-type=feedback-report;
     boundary="part1_13d.2e68ed54_boundary"

--part1_13d.2e68ed54_boundary
Content-Type: text/plain; charset="US-ASCII"

This is an email abuse report for an email message.
--part1_13d.2e68ed54_boundary
Content-Type: message/feedback-report

Feedback-Type: abuse
User-Agent: SomeGenerator/1.0
Version: 1

--part1_13d.2e68ed54_boundary
Content-Type: message/rfc822
Content-Disposition: inline

From: <somespammer@example.net>
Message-ID: 8787KJKJ3K4J3K4J3K4J3.mail@example.net
Subject: Earn money

Spam Spam Spam
--part1_13d.2e68ed54_boundary--
`
)

func TestThePublishedExamplesAreRead(t *testing.T) {
	r, err := bounce.Read(wire(timedOut))
	require.NoError(t, err)
	assert.Equal(t, bounce.Report{Kind: bounce.ForNow, Status: "4.0.0", Says: "426 connection timed out", MessageID: "199407092338.TAA23293@CS.UTK.EDU"}, r)
	r, err = bounce.Read(wire(unwanted))
	require.NoError(t, err)
	assert.Equal(t, bounce.Report{Kind: bounce.Complaint, Says: "reported as abuse", MessageID: "8787KJKJ3K4J3K4J3K4J3.mail@example.net"}, r)
}

func TestWhatIsSaidDecides(t *testing.T) {
	for _, c := range []struct {
		action, status string
		kind           bounce.Kind
	}{
		{"failed", "5.1.1", bounce.ForGood}, {"Failed", "5.7.1 (refused)", bounce.ForGood}, {"failed", "", bounce.ForGood},
		{"failed", "4.2.2", bounce.ForNow}, {"delayed", "4.4.1", bounce.Late}, {"DELAYED", "4.4.1", bounce.Late},
		{"delivered", "2.0.0", bounce.Nothing}, {"relayed", "2.0.0", bounce.Nothing}, {"expanded", "2.0.0", bounce.Nothing}, {"", "5.1.1", bounce.Nothing},
	} {
		r, err := bounce.Read(wire(strings.NewReplacer("Action: failed", "Action: "+c.action, "Status: 4.0.0", "Status: "+c.status).Replace(timedOut)))
		require.NoError(t, err)
		assert.Equal(t, c.kind, r.Kind, "%s %s", c.action, c.status)
	}
	r, err := bounce.Read(wire(strings.Replace(unwanted, "Feedback-Type: abuse", "Feedback-Type: not-spam", 1)))
	require.NoError(t, err)
	assert.Equal(t, bounce.Nothing, r.Kind)
	r, err = bounce.Read(wire("Subject: Away until Monday\nAuto-Submitted: auto-replied\n\nI am away. Action: failed\n"))
	require.NoError(t, err)
	assert.Equal(t, bounce.Nothing, r.Kind, "somebody is on holiday")
}

// Whatever comes, nothing falls over, and no report is made of what is none.
func TestAnythingMayCome(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		raw := wire(timedOut)
		from := rapid.IntRange(0, len(raw)).Draw(t, "from")
		to := rapid.IntRange(from, len(raw)).Draw(t, "to")
		torn := append(append([]byte{}, raw[:from]...), append(rapid.SliceOfN(rapid.Byte(), 0, 40).Draw(t, "noise"), raw[to:]...)...)
		r, err := bounce.Read(torn)
		if err == nil {
			assert.LessOrEqual(t, len(r.Says), 310)
			assert.NotContains(t, r.Says, "\n")
		}
		_, _ = bounce.Read(rapid.SliceOf(rapid.Byte()).Draw(t, "anything"))
	})
}

func Example() {
	r, err := bounce.Read(wire(timedOut))
	fmt.Println(r.Kind, r.Status, r.Says, err)
	// Output: for_now 4.0.0 426 connection timed out <nil>
}
