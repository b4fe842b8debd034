package drop

import "zealousknot/internal/core/rescue"

// Env is what belongs to whoever asks: a process, a worker, a command. The zero Env is
// ready to use; several may ask with one at once.
type Env struct {
	// Rescues keeps what the searches of rescues found; nil for nothing.
	Rescues *rescue.Cache

	// maxStates bounds the searches of one request; 0: as usual.
	maxStates int
}

// NewEnv is an Env that keeps what was found.
func NewEnv() Env { return Env{Rescues: new(rescue.Cache)} }
