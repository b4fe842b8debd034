package record

import (
	"encoding/json"
	"slices"
)

// A Subject is a thing that a record is about.
type Subject struct{ Kind, ID string }

// Searched is by what a record is found, read from what it says.
type Searched struct {
	Day, Drop, Item, Person, Corrects string
	// Subjects are the things that it is about, each once.
	Subjects []Subject
}

// recalls is the name under which recalls and what answers them are found.
func recalls(kind string) string {
	if k := Kind(kind); k == RecallNotice || k == Acknowledgement {
		return "recall"
	}
	return ""
}

// named is where a record's content names things; the rest of it is passed over.
type named struct {
	Day      string `json:"day"`
	Drop     string `json:"drop"`
	Item     string `json:"item"`
	Person   string `json:"person"`
	Corrects string `json:"corrects"`
	Paper    struct {
		By string `json:"by"`
	} `json:"paper"`
	Check struct {
		Rope string `json:"rope"`
	} `json:"check"`
	Worn struct {
		Items []struct {
			Item string `json:"item"`
		} `json:"items"`
	} `json:"worn"`
	Familiar struct {
		Model string `json:"model"`
	} `json:"familiar"`
	Kit struct {
		Kit   string   `json:"kit"`
		Items []string `json:"items"`
	} `json:"kit"`
	Examined struct {
		Batch string `json:"batch"`
	} `json:"examined"`
	Kind   string `json:"kind"`
	Recall struct {
		Model string `json:"model"`
	} `json:"recall"`
	Cut struct {
		Into string `json:"into"`
	} `json:"cut"`
	Rope struct {
		With string `json:"with"`
	} `json:"rope"`
	Frozen struct {
		People []struct {
			ID string `json:"id"`
		} `json:"people"`
		Items []struct {
			ID string `json:"id"`
		} `json:"items"`
	} `json:"frozen"`
	Affected []string `json:"affected"`
	Missing  []string `json:"missing"`
	Change   struct {
		Rows []struct {
			Kind string `json:"kind"`
			ID   string `json:"id"`
		} `json:"rows"`
	} `json:"change"`
}

// ReadSearched reads it from a record's content; what else the content says is passed over.
func ReadSearched(content []byte) (*Searched, error) {
	var n named
	if err := json.Unmarshal(content, &n); err != nil {
		return nil, err
	}
	return &Searched{Day: n.Day, Drop: n.Drop, Item: n.Item, Person: n.Person, Corrects: n.Corrects, Subjects: n.subjects()}, nil
}

// subjects are the things named, each once, in the order in which the fields are read.
func (n *named) subjects() []Subject {
	all := make([]Subject, 0, 4)
	add := func(kind, id string) {
		if s := (Subject{kind, id}); id != "" && !slices.Contains(all, s) {
			all = append(all, s)
		}
	}
	add("drop", n.Drop)
	for _, id := range [...]string{n.Item, n.Check.Rope, n.Cut.Into, n.Rope.With} {
		add("item", id)
	}
	add("model", n.Familiar.Model)
	add("person", n.Person)
	add("person", n.Paper.By)
	add("kit", n.Kit.Kit)
	add("batch", n.Examined.Batch)
	add("model", n.Recall.Model)
	add("recall", recalls(n.Kind))
	for _, ids := range [...][]string{n.Kit.Items, n.Missing, n.Affected} {
		for _, id := range ids {
			add("item", id)
		}
	}
	for _, i := range n.Frozen.Items {
		add("item", i.ID)
	}
	for _, w := range n.Worn.Items {
		add("item", w.Item)
	}
	for _, p := range n.Frozen.People {
		add("person", p.ID)
	}
	for _, r := range n.Change.Rows {
		add(r.Kind, r.ID)
	}
	return all
}
