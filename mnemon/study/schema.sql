-- The study file. docs/study.md explains it with examples.
CREATE TABLE IF NOT EXISTS facts (key TEXT PRIMARY KEY, value TEXT NOT NULL);
CREATE TABLE IF NOT EXISTS sequences (
  id INTEGER PRIMARY KEY, name TEXT NOT NULL, title TEXT NOT NULL, path TEXT NOT NULL, fingerprint TEXT NOT NULL,
  frames INTEGER NOT NULL, width INTEGER NOT NULL, height INTEGER NOT NULL, rate_hz REAL NOT NULL,
  UNIQUE (name, fingerprint));
CREATE TABLE IF NOT EXISTS tags (
  sequence_id INTEGER NOT NULL REFERENCES sequences ON DELETE CASCADE, tag TEXT NOT NULL,
  PRIMARY KEY (sequence_id, tag)) WITHOUT ROWID;
CREATE TABLE IF NOT EXISTS truth (
  sequence_id INTEGER NOT NULL REFERENCES sequences ON DELETE CASCADE, frame INTEGER NOT NULL,
  x REAL, y REAL, w REAL, h REAL, angle REAL, present INTEGER NOT NULL, visible REAL NOT NULL,
  PRIMARY KEY (sequence_id, frame)) WITHOUT ROWID;
CREATE TABLE IF NOT EXISTS pictures (
  sequence_id INTEGER NOT NULL REFERENCES sequences ON DELETE CASCADE, frame INTEGER NOT NULL, jpeg BLOB NOT NULL,
  PRIMARY KEY (sequence_id, frame));
CREATE TABLE IF NOT EXISTS trackers (
  id INTEGER PRIMARY KEY, label TEXT NOT NULL, name TEXT NOT NULL, params TEXT NOT NULL,
  UNIQUE (label, name, params));
CREATE TABLE IF NOT EXISTS builds (
  id INTEGER PRIMARY KEY, version TEXT NOT NULL, code TEXT NOT NULL, compiler TEXT NOT NULL,
  processor TEXT NOT NULL, cores INTEGER NOT NULL, UNIQUE (version, code, compiler, processor, cores));
CREATE TABLE IF NOT EXISTS runs (
  id INTEGER PRIMARY KEY, tracker_id INTEGER NOT NULL REFERENCES trackers,
  sequence_id INTEGER NOT NULL REFERENCES sequences, protocol TEXT NOT NULL,
  build_id INTEGER NOT NULL REFERENCES builds, timed INTEGER NOT NULL, failure TEXT,
  UNIQUE (tracker_id, sequence_id, protocol));
CREATE TABLE IF NOT EXISTS estimates (
  run_id INTEGER NOT NULL REFERENCES runs ON DELETE CASCADE, frame INTEGER NOT NULL,
  x REAL, y REAL, w REAL, h REAL, angle REAL, confidence REAL, present INTEGER NOT NULL, step_ms REAL, event TEXT,
  PRIMARY KEY (run_id, frame)) WITHOUT ROWID;
CREATE TABLE IF NOT EXISTS scores (
  run_id INTEGER NOT NULL REFERENCES runs ON DELETE CASCADE, measure TEXT NOT NULL, value REAL,
  PRIMARY KEY (run_id, measure)) WITHOUT ROWID;
CREATE TABLE IF NOT EXISTS planned (
  tracker_id INTEGER NOT NULL REFERENCES trackers, sequence_id INTEGER NOT NULL REFERENCES sequences,
  protocol TEXT NOT NULL, PRIMARY KEY (tracker_id, sequence_id, protocol));
