package letterbox

import (
	"strings"

	"github.com/emersion/go-smtp"
)

// Manner is how a mailbox behaves. An address says it by a word after a plus:
// ines+full@example.org is a mailbox that is full.
type Manner struct {
	Word, What string
	refuses    *smtp.SMTPError // as the letter is handed over
	times      int             // how often it does; 0: always
	report     report          // that follows; none where it has no kind
	waits      bool            // the letter is seen only after a while
}

// Manners are those there are.
var Manners = []Manner{
	{Word: "gone", What: "there is no such mailbox, and the server says so at once", refuses: &smtp.SMTPError{Code: 550, EnhancedCode: smtp.EnhancedCode{5, 1, 1}, Message: "no such mailbox here"}},
	{Word: "returns", What: "the letter is taken, and comes back: there is no such mailbox", report: report{action: "failed", status: "5.1.1", says: "smtp; 550 5.1.1 no such mailbox"}},
	{Word: "full", What: "the letter is taken, and comes back: the mailbox is full", report: report{action: "failed", status: "4.2.2", says: "smtp; 452 4.2.2 the mailbox is full"}},
	{Word: "late", What: "the letter is delayed, which is told, and seen a minute later", report: report{action: "delayed", status: "4.4.1", says: "smtp; 421 4.4.1 the next server does not answer"}, waits: true},
	{Word: "complains", What: "its reader calls the letter unwanted", report: report{complains: true}},
	{Word: "defers", What: "the server is busy twice, then takes it", refuses: &smtp.SMTPError{Code: 451, EnhancedCode: smtp.EnhancedCode{4, 7, 1}, Message: "busy, try again in a while"}, times: 2},
	{Word: "picky", What: "the server takes no letter of this store", refuses: &smtp.SMTPError{Code: 554, EnhancedCode: smtp.EnhancedCode{5, 7, 1}, Message: "not wanted here"}},
}

// of finds how a mailbox behaves; the zero manner takes every letter.
func of(address string) Manner {
	local, _, _ := strings.Cut(address, "@")
	_, word, _ := strings.Cut(local, "+")
	for _, m := range Manners {
		if strings.EqualFold(m.Word, word) {
			return m
		}
	}
	return Manner{}
}
