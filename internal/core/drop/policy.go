package drop

import (
	"zealousknot/internal/core/fit"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/strict"
)

// ReadPolicy reads a team's policy as strictly as Read reads the one in a drop.
func ReadPolicy(data []byte) (*policy.Policy, error) {
	p := new(policy.Policy)
	if err := strict.Read(data, p); err != nil {
		return nil, err
	}
	var faults strict.Faults
	p.Validate("", fit.Known, &faults)
	return p, faults.Err()
}
