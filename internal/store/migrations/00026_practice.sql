-- +goose Up
-- Practice cases as somebody worked them. They are that person's: nothing of the company's
-- record refers to them, no archive holds them, and they go when that person says so.
create table practice_attempts (
  id uuid primary key,
  user_id uuid not null references users on delete cascade,
  task_id uuid,
  title text not null,
  begun_at timestamptz not null,
  changed_at timestamptz not null,
  ask jsonb not null,
  past jsonb -- null: it goes on
);
create index practice_attempts_user on practice_attempts (user_id, begun_at desc);

-- Cases that the desk asks somebody to work.
create table practice_tasks (
  id uuid primary key,
  user_id uuid not null references users on delete cascade,
  title text not null,
  which jsonb not null,
  made_by uuid not null references users,
  made_at timestamptz not null
);
create index practice_tasks_user on practice_tasks (user_id, made_at);

-- +goose Down
drop table practice_tasks;
drop table practice_attempts;
