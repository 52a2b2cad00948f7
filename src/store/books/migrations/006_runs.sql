-- A step of a payout run writes every commission in it, a million at times, so each trigger and index counts.

-- What a change of a commission counts and tells is written with it, as with a new one; a step of a run changes neither.
DROP TRIGGER commissions_changed;
DROP TRIGGER commissions_recount;

-- What waits is looked for by its day, what is approved is taken by runs; what is in a run or paid is not looked for by
-- its state. A partner's commissions are looked for within a run; that index stays as it is when a commission moves. Those
-- of a run, and those approved, lie in their index in the order of the table.
DROP INDEX commissions_by_state;
CREATE INDEX commissions_waiting ON commissions (program_id, state, payable_on) WHERE state IN ('needs_rate', 'pending');
CREATE INDEX commissions_approved ON commissions (program_id) WHERE state = 'approved';
DROP INDEX commissions_by_partner;
CREATE INDEX commissions_by_partner ON commissions (partner_id);
DROP INDEX commissions_by_run;
CREATE INDEX commissions_by_run ON commissions (run_id) WHERE run_id IS NOT NULL;
