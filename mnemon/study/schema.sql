-- The study file. docs/study.md explains it with examples.
CREATE TABLE IF NOT EXISTS facts (key TEXT PRIMARY KEY, value TEXT NOT NULL);
CREATE TABLE IF NOT EXISTS sequences (
  id INTEGER PRIMARY KEY, name TEXT NOT NULL, title TEXT NOT NULL, path TEXT NOT NULL, fingerprint TEXT NOT NULL,
  frames INTEGER NOT NULL, width INTEGER NOT NULL, height INTEGER NOT NULL, rate_hz REAL NOT NULL,
  stress_scene TEXT, stress_knob TEXT, stress_level REAL, stress_random INTEGER,
  UNIQUE (name, fingerprint));
CREATE TABLE IF NOT EXISTS tags (
  sequence_id INTEGER NOT NULL REFERENCES sequences ON DELETE CASCADE, tag TEXT NOT NULL,
  given INTEGER NOT NULL, measured INTEGER NOT NULL,
  PRIMARY KEY (sequence_id, tag)) WITHOUT ROWID;
CREATE TABLE IF NOT EXISTS spans (
  sequence_id INTEGER NOT NULL REFERENCES sequences ON DELETE CASCADE, tag TEXT NOT NULL,
  first_frame INTEGER NOT NULL, last_frame INTEGER NOT NULL);
CREATE INDEX IF NOT EXISTS spans_of_sequence ON spans (sequence_id);
CREATE TABLE IF NOT EXISTS truth (
  sequence_id INTEGER NOT NULL REFERENCES sequences ON DELETE CASCADE, frame INTEGER NOT NULL,
  x REAL, y REAL, w REAL, h REAL, angle REAL, present INTEGER NOT NULL, visible REAL NOT NULL,
  x_mm REAL, y_mm REAL, z_mm REAL, mask BLOB,
  PRIMARY KEY (sequence_id, frame)) WITHOUT ROWID;
CREATE TABLE IF NOT EXISTS others (
  sequence_id INTEGER NOT NULL REFERENCES sequences ON DELETE CASCADE, frame INTEGER NOT NULL, name TEXT NOT NULL,
  x REAL NOT NULL, y REAL NOT NULL, w REAL NOT NULL, h REAL NOT NULL, angle REAL NOT NULL);
CREATE INDEX IF NOT EXISTS others_of_sequence ON others (sequence_id, frame);
CREATE TABLE IF NOT EXISTS pictures (
  sequence_id INTEGER NOT NULL REFERENCES sequences ON DELETE CASCADE, frame INTEGER NOT NULL, jpeg BLOB NOT NULL,
  PRIMARY KEY (sequence_id, frame));
CREATE TABLE IF NOT EXISTS trackers (
  id INTEGER PRIMARY KEY, name TEXT NOT NULL, params TEXT NOT NULL, UNIQUE (name, params));
CREATE TABLE IF NOT EXISTS protocols (
  id INTEGER PRIMARY KEY, name TEXT NOT NULL, params TEXT NOT NULL, UNIQUE (name, params));
CREATE TABLE IF NOT EXISTS builds (
  id INTEGER PRIMARY KEY, version TEXT NOT NULL, code TEXT NOT NULL, compiler TEXT NOT NULL,
  processor TEXT NOT NULL, cores INTEGER NOT NULL, arithmetic TEXT NOT NULL,
  UNIQUE (version, code, compiler, processor, cores, arithmetic));
CREATE TABLE IF NOT EXISTS runs (
  id INTEGER PRIMARY KEY, tracker_id INTEGER NOT NULL REFERENCES trackers,
  sequence_id INTEGER NOT NULL REFERENCES sequences, protocol_id INTEGER NOT NULL REFERENCES protocols,
  start INTEGER NOT NULL, repeat INTEGER NOT NULL, build_id INTEGER NOT NULL REFERENCES builds,
  timed INTEGER NOT NULL, failure TEXT, source TEXT, highest_rate_hz REAL, told_ms REAL, peak_bytes INTEGER,
  has_stages INTEGER NOT NULL DEFAULT 0,
  UNIQUE (tracker_id, sequence_id, protocol_id, start, repeat));
CREATE TABLE IF NOT EXISTS estimates (
  run_id INTEGER NOT NULL REFERENCES runs ON DELETE CASCADE, frame INTEGER NOT NULL,
  x REAL, y REAL, w REAL, h REAL, angle REAL, confidence REAL, present INTEGER NOT NULL, step_ms REAL, event TEXT,
  minor_px REAL, x_mm REAL, y_mm REAL, z_mm REAL, mask BLOB,
  PRIMARY KEY (run_id, frame)) WITHOUT ROWID;
CREATE TABLE IF NOT EXISTS scores (
  run_id INTEGER NOT NULL REFERENCES runs ON DELETE CASCADE, measure TEXT NOT NULL, value REAL,
  PRIMARY KEY (run_id, measure)) WITHOUT ROWID;
CREATE TABLE IF NOT EXISTS troubles (
  run_id INTEGER NOT NULL REFERENCES runs ON DELETE CASCADE, first_frame INTEGER NOT NULL, kind TEXT NOT NULL,
  frames INTEGER NOT NULL, absent_frames INTEGER NOT NULL, ending TEXT NOT NULL, cause TEXT NOT NULL,
  said_lost INTEGER NOT NULL, overlap_before REAL, confidence_before REAL, other TEXT, overlap_with_other REAL);
CREATE INDEX IF NOT EXISTS troubles_of_run ON troubles (run_id);
CREATE TABLE IF NOT EXISTS crops (
  run_id INTEGER NOT NULL REFERENCES runs ON DELETE CASCADE, frame INTEGER NOT NULL,
  x REAL NOT NULL, y REAL NOT NULL, w REAL NOT NULL, h REAL NOT NULL, jpeg BLOB NOT NULL,
  PRIMARY KEY (run_id, frame)) WITHOUT ROWID;
CREATE TABLE IF NOT EXISTS rate_areas (
  run_id INTEGER NOT NULL REFERENCES runs ON DELETE CASCADE, rate_hz REAL NOT NULL, success_area REAL,
  PRIMARY KEY (run_id, rate_hz)) WITHOUT ROWID;
CREATE TABLE IF NOT EXISTS stages (
  run_id INTEGER NOT NULL REFERENCES runs ON DELETE CASCADE, frame INTEGER NOT NULL, name TEXT NOT NULL,
  low REAL NOT NULL, high REAL NOT NULL, jpeg BLOB NOT NULL);
CREATE INDEX IF NOT EXISTS stages_of_run ON stages (run_id);
CREATE TABLE IF NOT EXISTS sets (
  name TEXT NOT NULL, sequence_id INTEGER NOT NULL REFERENCES sequences, PRIMARY KEY (name, sequence_id));
CREATE TABLE IF NOT EXISTS planned (
  label TEXT NOT NULL, sweep TEXT NOT NULL,
  tracker_id INTEGER NOT NULL REFERENCES trackers, sequence_id INTEGER NOT NULL REFERENCES sequences,
  protocol_id INTEGER NOT NULL REFERENCES protocols, start INTEGER NOT NULL, repeat INTEGER NOT NULL,
  tracker_place INTEGER NOT NULL, sequence_place INTEGER NOT NULL,
  PRIMARY KEY (label, sequence_id, protocol_id, start, repeat));
CREATE VIEW IF NOT EXISTS run_names AS
  SELECT runs.id AS run_id, planned.label AS tracker, sequences.name AS sequence, protocols.name AS protocol,
         runs.start, runs.repeat, runs.failure
  FROM runs JOIN planned USING (tracker_id, sequence_id, protocol_id, start, repeat)
  JOIN sequences ON sequences.id = sequence_id
  JOIN protocols ON protocols.id = protocol_id;
