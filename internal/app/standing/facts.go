package standing

import (
	"time"

	"fairlap/core/upkeep"
	"fairlap/core/words"
)

// PoolFacts is what the head of the bench and of the record shows.
type PoolFacts struct {
	ID          string        `json:"id"`
	Street      string        `json:"street"`
	Town        string        `json:"town" doc:"the rest of the address"`
	Gallons     float64       `json:"gallons"`
	Equipment   words.Message `json:"equipment"`
	Surface     string        `json:"surface"`
	AccessNote  string        `json:"accessNote"`
	Version     int           `json:"version"`
	Since       string        `json:"since"`
	LastCleaned *time.Time    `json:"lastCleaned"`
	UsualDays   float64       `json:"usualDays" doc:"days between cleanings here, median; 0 when not known"`
	CleanLineAt *time.Time    `json:"cleanLineAt"`
	Lat         *float64      `json:"lat" doc:"where the pool is; absent: nobody said"`
	Lon         *float64      `json:"lon"`
}

// RunTime says what the pool's programme is short of in this week's weather.
func (s *Keeper) RunTime(at *Site, now time.Time) words.Message {
	if at.Cached.Model.Doc.Presumed {
		return ""
	}
	air, known := upkeep.Heat(s.World.Sky, now.In(at.Company.Zone))
	if !known {
		return ""
	}
	return upkeep.RunTime(&at.Cached.Model.Doc, at.Cached.KGalPerDay, at.PoolFacts().Gallons, air)
}

// PoolFacts are what the head of the bench and of the record shows.
func (at *Site) PoolFacts() PoolFacts {
	p, gear := at.Record.Pool, upkeep.GearOf(&at.Cached.Model.Doc)
	out := PoolFacts{
		ID:          p.ID.String(),
		Street:      p.Name(),
		Town:        p.Town,
		Gallons:     p.VolumeM3 / 3.785411784e-3,
		Equipment:   FilterWords(&gear),
		Surface:     p.Surface,
		AccessNote:  p.AccessNote,
		Version:     p.Version,
		Since:       p.OnRecordSince.Format(time.DateOnly),
		LastCleaned: at.History.LastCleaned,
		UsualDays:   at.History.UsualDays(),
		Lat:         p.Lat,
		Lon:         p.Lon,
	}
	if at.Record.CleanLine != nil {
		out.CleanLineAt = &at.Record.CleanLine.TakenAt
	}
	return out
}
