package store

import (
	"encoding/json"
	"time"

	"github.com/google/uuid"
)

// Company is the one company of an installation.
type Company struct {
	ID       int16 `gorm:"primaryKey"`
	Name     string
	TimeZone string
	Settings json.RawMessage `gorm:"type:jsonb"`
	Office   json.RawMessage `gorm:"type:jsonb;default:'{}'"` // names, units, prices
	Version  int
}

// TableName keeps the singular: there is one row.
func (Company) TableName() string { return "company" }

// User is somebody who signs in.
type User struct {
	ID           uuid.UUID `gorm:"primaryKey"`
	Login        string
	Name         string
	Role         string
	PasswordHash string
	Active       bool
	Version      int
	CreatedAt    time.Time
	PasswordAt   time.Time `gorm:"default:'epoch'"` // sign-ins from before it have ended
	Lang, Units  string    // that they read; empty: the company's
	Shade        string    `gorm:"default:light"` // of their pages: light, dark; empty: as the device has it
	StepKey      string    // of their authenticator; empty: no second step
	StepLast     int64     // step of time of the last code that was taken
}

// Pool is a customer's pool.
type Pool struct {
	ID            uuid.UUID `gorm:"primaryKey"`
	Street        string    // and number
	Town          string    // the rest of its address
	Which         string    // of the pools at this street; empty where there is one
	VolumeM3      float64   `gorm:"column:volume_m3"`
	Surface       string
	AccessNote    string
	Weekday       int
	TechnicianID  *uuid.UUID
	BaseMinutes   int
	OnRecordSince time.Time `gorm:"type:date"`
	ArchivedAt    *time.Time
	Version       int
	Lon, Lat      *float64
	LapOrder      int             // place in its day's given order
	Cleaning      json.RawMessage `gorm:"type:jsonb;default:'{}'"` // its own choices on when to clean
	RecordRev     int64           // grows with its record; the database counts
	CustomerID    *uuid.UUID
	InGround      bool
	PhotoID       *uuid.UUID      // the one that stands for the pool
	Needs         json.RawMessage `gorm:"type:jsonb;default:'{}'"` // of its speed plan, where they are its own
	MadeHash      string          // of what it was taken on as; empty: before that was kept
}

// Name is what people call the pool: its street, and which one it is there.
func (p Pool) Name() string { return PoolName(p.Street, p.Which) }

// PoolName is the name of a pool at a street.
func PoolName(street, which string) string {
	if which == "" {
		return street
	}
	return street + ", " + which
}

// Equipment is a part of a pool with its life.
type Equipment struct {
	ID            uuid.UUID `gorm:"primaryKey"`
	PoolID        uuid.UUID
	Kind          string
	Model         string
	InstalledOn   *time.Time `gorm:"type:date"`
	ExpectedYears *float64
	RemovedOn     *time.Time `gorm:"type:date"`
	Serial        string
	WarrantyUntil *time.Time `gorm:"type:date"`
	CostCents     *int64
	PartOf        *uuid.UUID // the grids in a filter, the ring on a pot
}

// TableName keeps the mass noun.
func (Equipment) TableName() string { return "equipment" }

// Plumbing is one revision of a pool's pad document.
type Plumbing struct {
	ID        uuid.UUID `gorm:"primaryKey"`
	PoolID    uuid.UUID
	Revision  int
	Document  json.RawMessage `gorm:"type:jsonb"`
	Reason    string          `gorm:"default:description"`
	Note      string
	CreatedBy *uuid.UUID
	CreatedAt time.Time
}

// Reasons for a revision of the plumbing.
const (
	ReasonDescription = "description" // the words were mended, the pipes are the same
	ReasonWork        = "work"        // the pipes are not the same: older clean lines don't hold
)

// TableName keeps the mass noun.
func (Plumbing) TableName() string { return "plumbing" }

// CleanLine is a dated set of readings taken after a cleaning.
type CleanLine struct {
	ID          uuid.UUID `gorm:"primaryKey"`
	PoolID      uuid.UUID
	TakenAt     time.Time
	Note        string
	Readings    json.RawMessage `gorm:"type:jsonb"`
	CreatedBy   *uuid.UUID
	ContentHash string
}

// CatalogueItem is a model of the company's own catalogue.
type CatalogueItem struct {
	Model      string `gorm:"primaryKey"`
	Kind       string
	Item       json.RawMessage `gorm:"type:jsonb"`
	ImportedAt time.Time
	ImportedBy *uuid.UUID
}

// Lap is a technician's day.
type Lap struct {
	ID           uuid.UUID `gorm:"primaryKey"`
	TechnicianID uuid.UUID
	Day          time.Time `gorm:"type:date"`
	StartsAt     time.Time
	LimitMinutes int
	Version      int `gorm:"default:1"`
	Stops        []Stop
}

// Stop is one pool of a lap.
type Stop struct {
	ID        uuid.UUID `gorm:"primaryKey"`
	LapID     uuid.UUID
	PoolID    uuid.UUID
	Position  int
	Minutes   int
	PlannedAt time.Time
	DroppedAt *time.Time // taken off the lap; still there for whoever is at it
}

// Visit is a closed visit. It is never changed.
type Visit struct {
	ID            uuid.UUID `gorm:"primaryKey"`
	PoolID        uuid.UUID
	StopID        *uuid.UUID
	TechnicianID  uuid.UUID
	ArrivedAt     time.Time
	ClosedAt      time.Time
	CorrectsID    *uuid.UUID
	Note          string
	Confirmed     string
	ConfirmedHow  string
	Cleaned       bool
	ChemicalsAt   *time.Time
	LoadMean      *float64
	LoadSD        *float64 `gorm:"column:load_sd"`
	AfterMean     *float64
	AfterSD       *float64 `gorm:"column:after_sd"`
	LoadUnit      *float64 // resistance that was load 1; nil: of the gauge's rise alone
	PrimeS        *float64 // the pot took to fill
	DrainS        *float64 // an element took to drain
	PlumbingID    uuid.UUID
	CleanLineID   *uuid.UUID
	EngineVersion string
	Diagnosis     json.RawMessage `gorm:"type:jsonb"`
	LeftOpen      json.RawMessage `gorm:"type:jsonb"` // stop.Left; nil: nothing
	ContentHash   string
	RecordedAt    time.Time
	Rejudged      *time.Time `gorm:"-"` // when its loads were judged again; nil: they are as they were shown
	Readings      []VisitReading
	Signs         []VisitSign
	Works         []VisitWork
}

// VisitTakenBack is that a visit's maker took it back. It is never changed.
type VisitTakenBack struct {
	VisitID uuid.UUID `gorm:"primaryKey"`
	PoolID  uuid.UUID
	MadeBy  uuid.UUID
	MadeAt  time.Time
}

// TableName names the table, whose plural the mapper would not find.
func (VisitTakenBack) TableName() string { return "visits_taken_back" }

// CleanLineWithdrawn is that somebody called a clean line off. It is never changed.
type CleanLineWithdrawn struct {
	LineID uuid.UUID `gorm:"primaryKey"`
	PoolID uuid.UUID
	Reason string
	MadeBy uuid.UUID
	MadeAt time.Time
}

// TableName names the table, whose plural the mapper would not find.
func (CleanLineWithdrawn) TableName() string { return "clean_lines_withdrawn" }

// VisitRejudged is what a visit's readings amount to after its clean line was called off.
type VisitRejudged struct {
	VisitID   uuid.UUID `gorm:"primaryKey"`
	LineID    uuid.UUID `gorm:"primaryKey"`
	PoolID    uuid.UUID
	MadeAt    time.Time
	LoadMean  *float64
	LoadSD    *float64 `gorm:"column:load_sd"`
	AfterMean *float64
	AfterSD   *float64 `gorm:"column:after_sd"`
	LoadUnit  *float64
}

// TableName names the table, whose plural the mapper would not find.
func (VisitRejudged) TableName() string { return "visits_rejudged" }

// VisitReading is one set of meters of a visit, SI.
type VisitReading struct {
	VisitID  uuid.UUID `gorm:"primaryKey"`
	Seq      int       `gorm:"primaryKey;autoIncrement:false"`
	Phase    string
	Setting  string
	SpeedRPM float64  `gorm:"column:speed_rpm"`
	TankPa   *float64 `gorm:"column:tank_pa"`
	VacuumPa *float64 `gorm:"column:vacuum_pa"`
	FlowM3s  *float64 `gorm:"column:flow_m3s"`
	PowerW   *float64 `gorm:"column:power_w"`
}

// VisitSign is one thing looked for at a visit.
type VisitSign struct {
	VisitID uuid.UUID `gorm:"primaryKey"`
	Sign    string    `gorm:"primaryKey"`
	Yes     bool
}

// VisitWork is one piece of work done at a visit.
type VisitWork struct {
	VisitID uuid.UUID `gorm:"primaryKey"`
	Seq     int       `gorm:"primaryKey;autoIncrement:false"`
	Kind    string
	Note    string
}

// models lists every table's model, for the test that compares them with the
// migrated schema.
func models() []any {
	return []any{
		&Company{},
		&User{},
		&Pool{},
		&Equipment{},
		&Plumbing{},
		&CleanLine{},
		&CleanLineWithdrawn{},
		&VisitRejudged{},
		&CatalogueItem{},
		&Lap{},
		&Stop{},
		&Visit{},
		&VisitReading{},
		&VisitSign{},
		&VisitWork{},
		&DueMark{},
		&CalendarFeed{},
		&VisitMove{},
		&Run{},
		&RunEvent{},
		&EquipmentEvent{},
		&Customer{},
		&PhotoContent{},
		&Photo{},
		&Note{},
		&PoolLink{},
		&Audit{},
		&Inspection{},
		&Standing{},
		&Import{},
		&ImportRow{},
		&SignIn{},
		&Invitation{},
	}
}
