package company

import (
	"context"

	"fairlap/internal/app/access"
)

// People lists technicians, for whoever may see their laps.
func (s *Reader) People(ctx context.Context, a access.Actor) ([]Person, error) {
	us, err := s.Store.Users(ctx)
	out := []Person{}
	for _, role := range []access.Role{access.Technician, access.Owner} { // an owner may drive too
		for _, u := range us {
			if access.Role(u.Role) == role && a.MaySee(&u.ID) {
				out = append(out, Person{ID: u.ID.String(), Name: u.Name, Owns: role == access.Owner})
			}
		}
	}
	return out, err
}

// Person is somebody by name.
type Person struct {
	ID   string `json:"id"`
	Name string `json:"name"`
	Owns bool   `json:"owns,omitempty" doc:"an owner, who may drive too"`
}
