package access

// File is a file of a pool's pad.
type File struct {
	Name, Type string
	Content    []byte
}
