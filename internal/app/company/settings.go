package company

import (
	"encoding/json"
	"fmt"

	"fairlap/core/procedure"
	"fairlap/core/upkeep"
	"fairlap/internal/store"
)

// CleaningSettings are a company's choices on when to clean, with their version.
type CleaningSettings struct {
	upkeep.Settings
	Ways    procedure.Ways `json:"ways"`
	Version int            `json:"version" minimum:"1"`
}

// SettingsOf reads a company's choices over the usual ones.
func SettingsOf(row store.Company) (CleaningSettings, error) {
	out := CleaningSettings{Settings: upkeep.Defaults(), Ways: procedure.DefaultWays()}
	if err := json.Unmarshal(row.Settings, &out); err != nil {
		return out, fmt.Errorf("the company's settings: %w", err)
	}
	out.Version = row.Version
	return out, nil
}
