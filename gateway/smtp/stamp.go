package smtp

import (
	"bytes"
	"fmt"

	"chrysagon/app/ports"

	"github.com/emersion/go-msgauth/dkim"
)

// What a signature covers (RFC 6376, 5.4.1), with how a letter is ended, as mail programs
// ask of it before they offer that in one press (RFC 8058, section 4).
var covered = []string{
	"From", "Reply-To", "To", "Subject", "Date", "Message-ID", "MIME-Version", "Content-Type", "List-Unsubscribe", "List-Unsubscribe-Post",
}

// stamped is a letter with its signature before it; without a stamp, the letter as it is.
func stamped(raw []byte, by *ports.Stamp) ([]byte, error) {
	if by == nil {
		return raw, nil
	}
	var out bytes.Buffer
	err := dkim.Sign(&out, bytes.NewReader(raw), &dkim.SignOptions{
		Domain: by.Domain, Selector: by.Selector, Signer: by.Key, HeaderKeys: covered,
		HeaderCanonicalization: dkim.CanonicalizationRelaxed, BodyCanonicalization: dkim.CanonicalizationRelaxed,
	})
	if err != nil {
		return nil, fmt.Errorf("sign a letter: %w", err)
	}
	return out.Bytes(), nil
}
