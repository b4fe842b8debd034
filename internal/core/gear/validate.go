package gear

import (
	"fmt"
	"slices"

	"zealousknot/internal/core/strict"
)

// Validate reports what a model says that cannot be, beyond what the reader
// already refused: parts its class needs or must not have, ranges upside down,
// names given twice. At is the JSON Pointer of the model.
func (m *Model) Validate(at string, p *strict.Faults) {
	m.validateParts(at, p)
	for i, w := range m.WorkingLoads {
		if (w.KN > 0) == (w.Mass > 0) {
			p.Addf(fmt.Sprintf("%s/working_loads/%d", at, i), "needs either limit_kN or limit_kg")
		}
		if w.Mode != "" && (m.Device == nil || m.Device.Mode(w.Mode) == nil) {
			p.Addf(fmt.Sprintf("%s/working_loads/%d/mode", at, i), "%q is not a mode of this model", w.Mode)
		}
	}
	if m.Device != nil {
		m.Device.validate(at+"/device", p)
	}
	if m.Backup != nil && m.Backup.Kind == Wheel && m.Backup.LockSpeedMS == 0 {
		p.Addf(at+"/backup/lock_speed_m_s", "a wheel needs its locking speed")
	}
	if e := m.Evacuation; e != nil && e.MinKg > e.MaxKg {
		p.Addf(at+"/evacuation/max_kg", "must not be below min_kg")
	}
	if a := m.Absorber; a != nil && a.MinKg > a.MaxKg {
		p.Addf(at+"/absorber/max_kg", "must not be below min_kg")
	}
}

func (m *Model) validateParts(at string, p *strict.Faults) {
	info := classes[m.Class]
	for _, have := range []struct {
		part    part
		present bool
	}{
		{ropePart, m.Rope != nil}, {devicePart, m.Device != nil}, {backupPart, m.Backup != nil},
		{pulleyPart, m.Pulley != nil}, {windingPart, m.Winding != nil}, {connectorPart, m.Connector != nil},
		{lengthPart, m.LengthM > 0}, {absorberPart, m.Absorber != nil}, {harnessPart, m.Harness != nil},
		{hitchPart, m.Hitch != nil}, {evacuationPart, m.Evacuation != nil},
	} {
		needed := slices.Contains(info.needs, have.part)
		switch {
		case needed && !have.present:
			p.Addf(at+"/"+have.part.field(), "missing: a %s needs it", m.Class.Words())
		case have.present && !needed && !slices.Contains(info.may, have.part):
			p.Addf(at+"/"+have.part.field(), "does not belong to a %s", m.Class.Words())
		}
	}
}

// field is the JSON name of a part.
func (q part) field() string {
	if q == lengthPart {
		return "length_m"
	}
	return string(q)
}

func (d *Device) validate(at string, p *strict.Faults) {
	names := map[string]bool{}
	for i, m := range d.Modes {
		where := fmt.Sprintf("%s/modes/%d", at, i)
		if names[m.Name] {
			p.Addf(where+"/name", "%q is given twice", m.Name)
		}
		names[m.Name] = true
		if m.MinKg > m.MaxKg {
			p.Addf(where+"/max_kg", "must not be below min_kg")
		}
		for j, r := range m.Ropes {
			if r.MinMM > r.MaxMM {
				p.Addf(fmt.Sprintf("%s/ropes/%d/max_mm", where, j), "must not be below min_mm")
			}
		}
	}
	clear(names)
	for i, pos := range d.Positions {
		if names[pos.Name] {
			p.Addf(fmt.Sprintf("%s/positions/%d/name", at, i), "%q is given twice", pos.Name)
		}
		names[pos.Name] = true
	}
}

// Validate reports what an item says that cannot be, given its model.
func (i *Item) Validate(m *Model, at string, p *strict.Faults) {
	if m.Rope != nil && i.LengthM <= 0 {
		p.Addf(at+"/length_m", "missing: a rope needs its length")
	}
	if m.Rope == nil && (i.LengthM > 0 || i.MeasuredMM > 0 || i.Condition != "") {
		p.Addf(at, "length, measured diameter and condition belong to ropes only")
	}
	if m.Rope == nil && i.Noted != nil {
		p.Addf(at+"/noted", "belongs to ropes only")
	}
	if i.State != InService && i.Reason == "" {
		p.Addf(at+"/reason", "missing: say why it is not in service")
	}
	if i.Guest != nil && i.Owner == "" {
		p.Addf(at+"/owner", "missing: say whose a guest's item is")
	}
	if i.MadeOn != "" && i.FirstUsedOn != "" && i.FirstUsedOn < i.MadeOn {
		p.Addf(at+"/first_used_on", "before it was made")
	}
	if i.MadeOn != "" && i.BoughtOn != "" && i.BoughtOn < i.MadeOn {
		p.Addf(at+"/bought_on", "before it was made")
	}
}
