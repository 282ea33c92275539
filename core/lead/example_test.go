package lead_test

import (
	"fmt"

	"chrysagon/core/lead"
)

func Example() {
	form := lead.Form{Kind: lead.Appointment, Name: true}
	_, faults := form.Read(map[string]string{"name": "Ines", "email": "ines@example"})
	fmt.Println(len(faults), faults["name"] == "", faults["email"] != "")
	// Output: 1 true true
}
