package standing

import (
	"encoding/json"
	"fmt"
	"time"

	"fairlap/core/inspection"
	"fairlap/core/upkeep"
	"fairlap/internal/store"
)

// FindingsOf reads what an inspection found; none where there was no inspection.
func FindingsOf(r *store.Inspection) ([]inspection.Finding, error) {
	if len(r.Findings) == 0 {
		return nil, nil
	}
	var fs []inspection.Finding
	if err := json.Unmarshal(r.Findings, &fs); err != nil {
		return nil, fmt.Errorf("the findings of inspection %s: %w", r.ID, err)
	}
	return fs, nil
}

// InspectedOf is what a pool's last closed inspection asks to be done; r is empty without
// one.
func InspectedOf(r store.Inspection) ([]upkeep.Inspected, error) {
	if r.ClosedAt == nil {
		return nil, nil
	}
	fs, err := FindingsOf(&r)
	if err != nil {
		return nil, err
	}
	return inspectedWork(fs, *r.ClosedAt), nil
}

// inspectedWork is what findings ask to be done.
func inspectedWork(fs []inspection.Finding, at time.Time) []upkeep.Inspected {
	var out []upkeep.Inspected
	for _, f := range fs {
		if !f.IsWork() {
			continue
		}
		out = append(
			out,
			upkeep.Inspected{
				Item: string(f.Item),
				Name: f.Name,
				Text: f.Text,
				Who:  f.Who,
				At:   at,
				Stop: f.Severity == inspection.Stop,
				Soon: f.Severity == inspection.Soon,
			},
		)
	}
	return out
}
