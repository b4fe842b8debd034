package demo

import (
	"maps"
	"slices"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/rig"
)

// Password is of every demo account. Everybody may know it: only the demo lets
// these accounts in.
const Password = "marrowfell crest"

// Account is somebody of the demo who may sign in.
type Account struct {
	Login, Name, Person string
	Roles               []string
	// Is says what the person is, in words.
	Is string
}

// Accounts are the people of the demo team, and a reader.
func Accounts() []Account {
	return []Account{
		{"rhea", "Rhea Tolland", "rhea", []string{"technician"}, "technician, on Face 4"},
		{"ivo", "Ivo Kestrane", "ivo", []string{"technician"}, "technician, in the gate shaft"},
		{"maren", "Maren Oake", "maren", []string{"technician", "trainer"}, "technician and trainer, at the spillway lip"},
		{"dov", "Dov Pellister", "dov", []string{"technician", "supervisor", "store-keeper"}, "supervisor and store keeper, in two teams"},
		{"sunniva", "Sunniva Arrel", "", []string{"reader"}, "reader, from the dam's office"},
	}
}

// OtherTeam is a second team, with one of the first in it.
const OtherTeam = "Carrow Vale practice group"

// OtherAccounts are the people of the second team.
func OtherAccounts() []Account {
	return []Account{{"dov", "Dov Pellister", "", []string{"supervisor", "trainer"}, ""}}
}

// Given is an entry with the login of who gave it.
type Given struct {
	Login string
	Entry record.Entry
}

// Records are the checks of the scenario, function checks with all their proofs.
func Records() []Given {
	logins := map[string]string{}
	for _, a := range Accounts() {
		logins[a.Name] = a.Login
	}
	list := practised()
	drops := Drops()
	for _, id := range slices.Sorted(maps.Keys(drops)) {
		for _, c := range drops[id].Checks {
			list = append(list, Given{logins[c.By], record.Entry{
				Kind: record.FunctionCheck, GivenAt: string(c.On) + "T06:40:00Z", Day: c.On, Drop: id, Item: c.Item,
				Check: &record.Proved{Rope: c.Rope, Passed: true, Proofs: proofs(c.Item)},
			}})
		}
		for _, c := range drops[id].WornChecks {
			list = append(list, Given{logins[c.By], record.Entry{
				Kind: record.WornCheck, GivenAt: string(c.On) + "T06:45:00Z", Day: c.On, Drop: id, Person: c.Person, Worn: &record.Worn{Items: c.Items},
			}})
		}
		for _, c := range drops[id].PartnerChecks {
			list = append(list, Given{logins[c.By], record.Entry{
				Kind: record.PartnerCheck, GivenAt: string(c.On) + "T06:50:00Z", Day: c.On, Drop: id, Person: c.Person,
				Partner: &record.Touched{Rigging: c.Rigging, Passed: true},
			}})
		}
	}
	return list
}

// practised is what the trainer signed of the others' practice; some of it goes stale.
func practised() (list []Given) {
	for _, p := range []struct {
		person, skill string
		how           rig.How
		day           gear.Date
	}{
		{"dov", "pick-off", rig.OnRun, "2026-08-03"}, {"dov", "capture", rig.NearGround, "2026-04-20"}, {"dov", "lower", rig.OnRun, "2026-09-30"},
		{"rhea", "pick-off", rig.NearGround, "2026-09-10"}, {"rhea", "re-belay", rig.OnRun, "2026-07-14"},
		{"ivo", "knot-pass", rig.NearGround, "2026-05-12"}, {"ivo", "pick-off", rig.NearGround, "2026-03-02"},
	} {
		list = append(list, Given{"maren", record.Entry{
			Kind: record.Practice, GivenAt: string(p.day) + "T15:00:00Z", Day: p.day, Person: p.person, Practice: &record.Exercised{Skill: p.skill, How: p.how},
		}})
	}
	return list
}

// proofs are those of an item, each done.
func proofs(item string) []rig.ProofResult {
	items, models := Items(), Models()
	i := slices.IndexFunc(items, func(i gear.Item) bool { return i.ID == item })
	m := slices.IndexFunc(models, func(m gear.Model) bool { return m.ID == items[i].Model })
	var list []rig.ProofResult
	for _, p := range procedure.Of(&models[m]) {
		list = append(list, rig.ProofResult{Proof: p.ID, Did: true})
	}
	return list
}
