-- +goose Up
-- When what was made on a device without a line came in; null: at once.
alter table due_marks add column received_at timestamptz;
alter table notes add column received_at timestamptz;
alter table equipment_events add column received_at timestamptz;
alter table visit_moves add column received_at timestamptz;
alter table photos add column received_at timestamptz;
alter table runs add column received_at timestamptz;
alter table inspections add column received_at timestamptz;

-- +goose Down
alter table inspections drop column received_at;
alter table runs drop column received_at;
alter table photos drop column received_at;
alter table visit_moves drop column received_at;
alter table equipment_events drop column received_at;
alter table notes drop column received_at;
alter table due_marks drop column received_at;
