package company

import (
	"encoding/json"
	"fmt"

	"fairlap/core/words"
	"fairlap/internal/store"
)

// OfficeSettings are what a company sets beside when it cleans.
type OfficeSettings struct {
	Lang     string `json:"lang,omitempty" enum:"en,es" doc:"that people read who chose none; empty: English"`
	Units    string `json:"units" enum:"us,metric" doc:"what people read and type; the record keeps SI"`
	Currency string `json:"currency" maxLength:"4"`
	Phone    string `json:"phone" maxLength:"60" doc:"whom customers call; on their papers"`
	Address  string `json:"address,omitempty" maxLength:"200" doc:"the company's, on its papers"`
	Country  string `json:"country,omitempty" maxLength:"2" doc:"where it works; empty: the United States"`
	// NotNeeded are first steps that somebody put aside.
	NotNeeded       []string `json:"notNeeded,omitempty" maxItems:"10" doc:"first steps that are not needed"`
	WaterPerKGal    float64  `json:"waterPerKgal" doc:"price of a thousand gallons, sewer with it"`
	LabourPerHour   float64  `json:"labourPerHour"`
	EnergyPerKWh    float64  `json:"energyPerKwh"`
	StraightRun     string   `json:"straightRun" enum:"installer,code" doc:"of pipe before the pump: ten diameters, or the four of code"`
	CellClear       bool     `json:"cellClear" doc:"the salt cell's own body counts as clear run before its flow switch"`
	TechniciansLink bool     `json:"techniciansLink,omitempty" doc:"technicians too may give a customer the link to their papers"`
	KeepPhotosYears float64  `json:"keepPhotosYears" doc:"pictures older than this are taken away; 0 keeps them"`
	KeepPeopleYears float64  `json:"keepPeopleYears" doc:"details of customers whose pools have been archived this long are erased; 0 keeps them"`
}

// UsualOffice is what holds until a company says otherwise. Prices are ours, near
// what a household in the south-west of the United States pays (from memory).
func UsualOffice() OfficeSettings {
	return OfficeSettings{
		Lang:          string(words.English),
		Units:         "us",
		Currency:      "$",
		WaterPerKGal:  8,
		LabourPerHour: 60,
		EnergyPerKWh:  0.16,
		StraightRun:   "installer",
	}
}

// OfficeOf reads how a company is set up over the usual.
func OfficeOf(row store.Company) (OfficeSettings, error) {
	out := UsualOffice()
	if len(row.Office) == 0 {
		return out, nil
	}
	if err := json.Unmarshal(row.Office, &out); err != nil {
		return out, fmt.Errorf("the office's settings: %w", err)
	}
	if out.Lang == "" {
		out.Lang = string(words.English) // of before languages were chosen
	}
	return out, nil
}
