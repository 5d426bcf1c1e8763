-- +goose Up
-- A part that a run found bad is owed to its pool until somebody marks it done.
alter table due_marks drop constraint due_marks_act_check;
alter table due_marks add constraint due_marks_act_check check (act in ('done', 'snooze', 'plan', 'resume', 'cancel', 'override', 'owe'));

-- +goose Down
alter table due_marks disable trigger due_marks_append_only;
delete from due_marks where act = 'owe';
alter table due_marks enable trigger due_marks_append_only;
alter table due_marks drop constraint due_marks_act_check;
alter table due_marks add constraint due_marks_act_check check (act in ('done', 'snooze', 'plan', 'resume', 'cancel', 'override'));
