package ask_test

import (
	"fmt"
	"testing"

	"zealousknot/internal/core/ask"
	"zealousknot/internal/core/manoeuvre"
	"zealousknot/internal/core/policy"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/demo"
)

// Every action that is listed has words of its own and can be timed by a policy, in its own
// table alone.
func TestActionTimes(t *testing.T) {
	words := map[string]bool{}
	for _, a := range ask.ActionTimes() {
		if a.Words == "" || words[a.Table+a.Words] {
			t.Errorf("%s of %s is called %q", a.Do, a.Table, a.Words)
		}
		words[a.Table+a.Words] = true
		if _, err := policy.Read(fmt.Appendf(nil, `{"name":"ours",%q:[{"do":%q,"s":%v}]}`, a.Table, a.Do, a.S)); err != nil {
			t.Error(err)
		}
	}
	if _, err := policy.Read([]byte(`{"name":"ours","move_times":[{"do":"haul","s":1}]}`)); err == nil {
		t.Error("a team's action is timed as a person's")
	}
}

// A team that tells the shipped times has the shipped plans; one that takes longer for
// an action has plans that take as much longer as they do it.
func TestTeamTimes(t *testing.T) {
	seconds := func(add float64) (float64, int) {
		from, to := quantity.Metres(20), quantity.Metres(24)
		asked := ask.TeamAsked{Drop: *demo.Drops()["basin-wall"], Move: "raise", FromM: &from, ToM: &to}
		for _, a := range ask.ActionTimes() {
			if a.Table == "team_times" && add >= 0 {
				if a.Do == "build" {
					a.S += add
				}
				asked.Drop.Policy.TeamTimes = append(asked.Drop.Policy.TeamTimes, policy.TeamTime{Do: manoeuvre.TeamDo(a.Do), S: a.S})
			}
		}
		answer, err := asked.Answer(t.Context(), ask.Env{})
		if err != nil {
			t.Fatal(err)
		}
		built := 0
		for _, s := range answer.Plan.Steps {
			if s.Action.Do == "build" {
				built++
			}
		}
		return answer.Plan.Seconds, built
	}
	shipped, built := seconds(-1)
	if same, _ := seconds(0); same != shipped || built == 0 {
		t.Errorf("%v s, told %v s, built %d times", shipped, same, built)
	}
	if longer, _ := seconds(7); longer != shipped+7*float64(built) {
		t.Errorf("%v s, and %v s with 7 s more for each of %d", shipped, longer, built)
	}
}
