-- What a person was given directly, beside what a link gives. Harmless when run twice, also at once.
ALTER TABLE shares ADD COLUMN IF NOT EXISTS direct ENUM ('look', 'edit') NULL;
UPDATE shares SET direct = may WHERE link_id IS NULL AND direct IS NULL;
-- A page of the list is read off one of these, without looking at the designs; a search looks at the names in it.
ALTER TABLE designs
  ADD KEY IF NOT EXISTS by_owner_saved (owner_id, deleted_at, saved_at, id, name),
  ADD KEY IF NOT EXISTS by_owner_created (owner_id, deleted_at, created_at, id, name),
  ADD KEY IF NOT EXISTS by_owner_name (owner_id, deleted_at, name, id),
  ADD KEY IF NOT EXISTS by_deleted (deleted_at),
  ADD KEY IF NOT EXISTS by_demo (demo, owner_id, deleted_at);
