package access

// Window is which lines of a list are asked for: its page, from 1, of a size.
type Window struct{ Page, Size int }

// Offset is how many lines stand before the window.
func (w Window) Offset() int { return (w.Page - 1) * w.Size }

// Of are the lines of a whole list that the window shows.
func Of[T any](w Window, all []T) Page[T] {
	from := min(w.Offset(), len(all))
	return Page[T]{Items: append([]T{}, all[from:min(from+w.Size, len(all))]...), Total: len(all)}
}

// Page is some lines of a list, and how many it has.
type Page[T any] struct {
	Items []T `json:"items" nullable:"false"`
	Total int `json:"total" doc:"of the whole list as it was asked for"`
}
