package record

import (
	"encoding/json"

	"zealousknot/internal/core/gear"
)

// LastExamined is when an item was examined last, and by when its examiner wants it again, as
// the records about it say that stand, first ones first. What somebody typed as its last day
// counts like one. What it was before its first record is unknown: then both are empty, and the
// item is due at once.
func LastExamined(item string, of []Numbered) (on, again gear.Date) {
	state := gear.InService
	for _, r := range of {
		c := r.Says
		switch c.Kind {
		case Quarantine:
			state = gear.Quarantine
		case BackInService:
			state = gear.InService
		case Examination:
			if c.Examined.Fit() && state == gear.InService && c.Day >= on {
				on, again = c.Day, c.Examined.AgainBy
			}
		case GearChange:
			was, is := changedTo(item, c)
			if is == nil {
				continue
			}
			if state = is.State; was.ExaminedOn != is.ExaminedOn || was.AgainBy != is.AgainBy {
				on, again = is.ExaminedOn, is.AgainBy
			}
		}
	}
	return on, again
}

// changedTo is an item before a change of gear, empty for a new one, and as it left it; nil
// where it is about others.
func changedTo(item string, c *Content) (was, is *gear.Item) {
	for _, row := range c.Change.Rows {
		was, is = new(gear.Item), new(gear.Item)
		if row.Kind == "item" && row.ID == item && json.Unmarshal(row.After, is) == nil {
			_ = json.Unmarshal(row.Before, was) // nothing, of a new one
			return was, is
		}
	}
	return nil, nil
}
