// Package site resolves a drop: it ties the document's names to things and computes the
// figures that rules compare.
//
// It knows neither rules nor moves.
package site

import (
	"zealousknot/internal/core/drop"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/strict"
)

// A Site is a resolved drop. It is computed when it is made and never changes; its document
// must not be changed either while it is in use.
type Site struct {
	Drop *drop.Document
	Rig  *rig.Rig
	// Policy has every figure that the document's leaves out.
	Policy *policy.Policy
}

// Open resolves a drop. A *strict.Error holds the names that lead nowhere and the
// combinations that cannot be.
func Open(d *drop.Document) (*Site, error) {
	r, err := d.Rig()
	if err != nil {
		return nil, err
	}
	s := &Site{Drop: d, Rig: r, Policy: d.Policy.With()}
	figures(r, s.Policy)
	return s, nil
}

// Read reads a drop document as strictly as drop.Read, and resolves it.
func Read(data []byte) (*Site, error) {
	d, err := drop.ReadKept(data)
	if err != nil {
		return nil, err
	}
	return Open(d)
}

// Person finds somebody by id, for no id the first; nil for nobody of it.
func (s *Site) Person(id string) *rig.PersonView {
	for _, p := range s.Rig.People {
		if id == "" || p.ID == id {
			return p
		}
	}
	return nil
}

// Refused is a fault of what was asked of a site.
func Refused(pointer, detail string) error {
	return &strict.Error{Faults: []strict.Fault{{Pointer: pointer, Detail: detail}}}
}
