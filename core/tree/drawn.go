package tree

// Few is how many files of a type are read where the code itself is looked at, before
// it is known whether it takes more.
const Few = 500

// Drawn picks so many of the files, evenly: one of each run of neighbours, and
// not always the same of them, as what repeats in the tree must not repeat in the
// sample.
func Drawn(files []int, want int) []int {
	n := len(files)
	if want >= n {
		return files
	}
	out := make([]int, want)
	for k := range want {
		from, to := k*n/want, (k+1)*n/want
		out[k] = files[from+scatter(k)%(to-from)]
	}
	return out
}

// scatter is a number that looks drawn, and is the same each time.
func scatter(k int) int {
	x := uint64(k+1) * 0x9e3779b97f4a7c15
	x ^= x >> 29
	x *= 0xbf58476d1ce4e5b9
	return int(x >> 33)
}
