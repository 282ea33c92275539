-- +goose Up
-- A hundred thousand goods that come in at once checked two keys a hundred
-- thousand times, a third of the import's time, though the rows are written by
-- the very statement that writes what they point at. Both are held otherwise:
-- the rows of a batch are written in its transaction and batches are never
-- deleted; the ledger is written by the triggers of variants alone, and goes
-- with them, whole statements at a time.
ALTER TABLE batch_rows DROP CONSTRAINT batch_rows_batch_id_fkey;
ALTER TABLE price_ledger DROP CONSTRAINT price_ledger_variant_id_fkey;

-- +goose StatementBegin
CREATE FUNCTION end_ledger() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    DELETE FROM price_ledger l USING gone g WHERE l.variant_id = g.id;
    RETURN NULL;
END $$;
-- +goose StatementEnd
CREATE TRIGGER end_ledger AFTER DELETE ON variants REFERENCING OLD TABLE AS gone FOR EACH STATEMENT EXECUTE FUNCTION end_ledger();

-- +goose Down
DROP TRIGGER end_ledger ON variants;
DROP FUNCTION end_ledger;
ALTER TABLE price_ledger ADD FOREIGN KEY (variant_id) REFERENCES variants ON DELETE CASCADE;
ALTER TABLE batch_rows ADD FOREIGN KEY (batch_id) REFERENCES batches ON DELETE CASCADE;
