// Package merge brings together what two people made of the same thing: a
// text, copy with structure, or a list. Neither loses what they added; what
// one of them took away goes, unless the other changed it meanwhile.
//
// It is a three-way merge: both changes are held against what the two began
// from. Whoever is merged first stands first where both added in one place, so
// that everybody ends with the same.
package merge

// costly is the number of comparisons beyond which two sequences are not held
// against each other one by one: what lies between their equal ends counts as
// replaced, and both replacements stay.
const costly = 4_000_000

// rules say how the things of a sequence are compared and joined.
type rules[T any] struct {
	alike func(base, side []T, i, j int) float64 // from 0, another thing, to 1, the same
	same  func(a, b T) bool                      // nothing that would keep it from going was changed
	both  func(base, mine, theirs T) T           // what two changes of one thing come to
}

// merged is what a sequence comes to when mine is brought to theirs.
func (r rules[T]) merged(base, mine, theirs []T) []T {
	am, at := r.align(base, mine), r.align(base, theirs)
	insM, insT := inserted(am, mine), inserted(at, theirs)
	var out []T
	for i := range len(base) + 1 {
		out = append(out, r.added(insT[i], insM[i])...)
		if i == len(base) {
			break
		}
		m, t := am[i], at[i]
		switch {
		case m >= 0 && t >= 0:
			out = append(out, r.both(base[i], mine[m], theirs[t]))
		case m >= 0 && !r.same(base[i], mine[m]): // they took away what I changed
			out = append(out, mine[m])
		case t >= 0 && !r.same(base[i], theirs[t]):
			out = append(out, theirs[t])
		}
	}
	return out
}

// added are the things that both added in one place, theirs first; what both
// added alike comes once.
func (r rules[T]) added(theirs, mine []T) []T {
	n := 0
	for n < len(theirs) && n < len(mine) && r.same(theirs[n], mine[n]) {
		n++
	}
	return append(append([]T{}, theirs...), mine[n:]...)
}

// inserted are the things of one side that stand for nothing in the base, by
// the place in the base before which they stand.
func inserted[T any](align []int, side []T) [][]T {
	out := make([][]T, len(align)+1)
	place, from := 0, 0
	for i, at := range align {
		if at < 0 {
			continue
		}
		out[place] = append(out[place], side[from:at]...)
		place, from = i+1, at+1
	}
	out[place] = append(out[place], side[from:]...)
	return out
}

// align says for each thing of the base which one of the side it became, or
// -1: the pairs in order whose likeness adds up to the most.
func (r rules[T]) align(base, side []T) []int {
	out := make([]int, len(base))
	for i := range out {
		out[i] = -1
	}
	head := 0
	for head < len(base) && head < len(side) && r.same(base[head], side[head]) {
		out[head] = head
		head++
	}
	tail := 0
	for tail < len(base)-head && tail < len(side)-head && r.same(base[len(base)-1-tail], side[len(side)-1-tail]) {
		tail++
		out[len(base)-tail] = len(side) - tail
	}
	n, m := len(base)-head-tail, len(side)-head-tail
	if n == 0 || m == 0 || n*m > costly {
		return out
	}
	best := make([]float64, (n+1)*(m+1)) // of what follows i and j
	at := func(i, j int) int { return i*(m+1) + j }
	like := make([]float32, n*m)
	for i := n - 1; i >= 0; i-- {
		for j := m - 1; j >= 0; j-- {
			l := r.alike(base, side, head+i, head+j)
			like[i*m+j] = float32(l)
			best[at(i, j)] = max(best[at(i+1, j)], best[at(i, j+1)])
			if l > 0 {
				best[at(i, j)] = max(best[at(i, j)], best[at(i+1, j+1)]+float64(float32(l)))
			}
		}
	}
	for i, j := 0, 0; i < n && j < m; {
		switch l := float64(like[i*m+j]); {
		case l > 0 && best[at(i, j)] == best[at(i+1, j+1)]+l:
			out[head+i] = head + j
			i, j = i+1, j+1
		case best[at(i, j)] == best[at(i+1, j)]:
			i++
		default:
			j++
		}
	}
	return out
}
