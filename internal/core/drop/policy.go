package drop

import (
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/rescue"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/core/team"
)

// known reports whether any rule on a drop has this id.
func known(rule string) bool { return fit.Known(rule) || team.Known(rule) || rescue.Known(rule) }

// ReadPolicy reads a team's policy as strictly as Read reads the one in a drop.
func ReadPolicy(data []byte) (*policy.Policy, error) {
	p := new(policy.Policy)
	if err := strict.Read(data, p); err != nil {
		return nil, err
	}
	var faults strict.Faults
	p.Validate("", known, &faults)
	return p, faults.Err()
}
