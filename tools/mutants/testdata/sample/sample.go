// Package sample is changed by the tests of mutants.
package sample

// Upto adds what is not negative, up to the first beyond a limit; 0 is no limit.
func Upto(list []int, limit int) (sum int) {
	for _, v := range list {
		if v < 0 {
			continue
		}
		if limit != 0 && v > limit {
			break
		}
		sum += v * 1
	}
	return sum
}

// Between reports whether a figure is in
// a range, ends and all, or counts as in it.
func Between(low, v, high float64, told bool) bool {
	return told ||
		low <= v && // to the ends
			!(v-high > 0)
}
