package gear

// A Proof is one step of a function check: what to do, what must then happen and
// how it shows, and what it means if it does not.
type Proof struct {
	ID    string `json:"id" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"stable within the procedure"`
	Do    string `json:"do" minLength:"1" maxLength:"1000"`
	Must  string `json:"must" minLength:"1" maxLength:"1000" doc:"what must happen"`
	Cue   Cue    `json:"cue" enum:"seen,heard,felt"`
	Fails string `json:"fails" minLength:"1" maxLength:"1000" doc:"what it means if it does not"`
	// Mend is set where a failure is put right and proved again: it says nothing
	// against the item.
	Mend bool `json:"mend,omitempty"`
	// Sign is a plain drawing of what is done.
	Sign Sign `json:"sign,omitempty" enum:"look,lay,shut,pull-up,pull-down,jerk,let-go,handle,roll,cord,park,gate,knot,person"`
}

// Cue is how a proof shows.
type Cue string

const (
	Seen  Cue = "seen"
	Heard Cue = "heard"
	Felt  Cue = "felt"
)

// Sign names a drawing.
type Sign string

const (
	Look      Sign = "look"
	Lay       Sign = "lay"
	ShutPlate Sign = "shut"
	PullUp    Sign = "pull-up"
	PullDown  Sign = "pull-down"
	Jerk      Sign = "jerk"
	LetGo     Sign = "let-go"
	Handle    Sign = "handle"
	Roll      Sign = "roll"
	CordPull  Sign = "cord"
	ParkSign  Sign = "park"
	GateSign  Sign = "gate"
	KnotSign  Sign = "knot"
	Touch     Sign = "person"
)
