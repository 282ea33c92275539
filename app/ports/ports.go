// Package ports is what the program asks of outside services: to charge cards, to
// carry mail, to give appointments. Clients of them stand in gateway.
package ports

// Ports are the services that are there.
type Ports struct {
	Payments Payments     // nil: nothing can be paid
	Post     Post         // nil: no mail is sent
	Book     Appointments // nil: no appointments are given
	Names    Names        // nil: nobody looks up what stands in the DNS
	Relays   Relays       // nil: nobody is told of anything
	Returns  string       // domain at which the program takes what mail servers return; empty: nowhere
	Carrier  string       // the mail server, for people; empty: none is set
}
