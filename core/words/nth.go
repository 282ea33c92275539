package words

import "strconv"

// Nth is a place in a row, in words as far as people count so: first, second, tenth, 11th.
func Nth(n int) string {
	small := []string{"first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth"}
	if n >= 1 && n <= len(small) {
		return small[n-1]
	}
	end := "th"
	if tens := n / 10 % 10; tens != 1 {
		switch n % 10 {
		case 1:
			end = "st"
		case 2:
			end = "nd"
		case 3:
			end = "rd"
		}
	}
	return strconv.Itoa(n) + end
}
