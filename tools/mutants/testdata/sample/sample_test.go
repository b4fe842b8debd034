package sample

import "testing"

func TestUpto(t *testing.T) {
	for want, got := range map[int]int{6: Upto([]int{1, -4, 2, 3}, 0), 3: Upto([]int{1, 2, 9, 1}, 2), 0: Upto([]int{}, 1), 5: Upto([]int{5, 6}, 5)} {
		if got != want {
			t.Errorf("%d, want %d", got, want)
		}
	}
}

func TestBetween(t *testing.T) {
	if !Between(1, 1, 2, false) || !Between(1, 2, 2, false) || Between(1, 2.1, 2, false) || Between(1, 0.9, 2, false) || !Between(1, 9, 2, true) {
		t.Error("not between")
	}
}
