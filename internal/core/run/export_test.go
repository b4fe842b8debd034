package run

import (
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/strict"
)

// Lies notes where the ropes of a site lie on edges.
func (d *Document) Lies(s *site.Site) { d.lies(s) }

// Zones are the records of those contacts.
func (d *Document) Zones(day gear.Date, lines []EdgeLine, lengths map[string]quantity.Metres, faults *strict.Faults) []record.Entry {
	return d.zones(day, lines, lengths, faults)
}

// Words say how a rope lay.
func (c *Contact) Words() string { return c.words() }
