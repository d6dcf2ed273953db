// The report's data object, and what follows from it: unpacked frames, lookups by place.
export const report = JSON.parse(document.getElementById('data').textContent);

export const trackers = new Map(report.trackers.map((tracker) => [tracker.id, tracker]));
export const ranked = report.merit
  ? report.merit.rows.map((row) => trackers.get(row.tracker)).filter(Boolean)
  : report.trackers;
export const sequences = new Map(Object.entries(report.sequences).map(([id, one]) => [Number(id), { id: Number(id), ...one }]));

const bytesOf = (text) => Uint8Array.from(atob(text), (c) => c.charCodeAt(0));

// Boxes are five little-endian 16-bit numbers a frame: quarters of a pixel, and tenths of a degree.
function boxReader(text) {
  const view = new DataView(bytesOf(text).buffer);
  const at = (frame, part) => view.getInt16((frame * 5 + part) * 2, true);
  return (frame) => ({ x: at(frame, 0) / 4, y: at(frame, 1) / 4, w: at(frame, 2) / 4, h: at(frame, 3) / 4, angle: at(frame, 4) / 10 });
}

const unpacked = new Map();

// A run or a truth with `box(frame)`, and bytes by frame: states, and of runs overlaps and confidences (null for none).
function unpack(packed) {
  if (unpacked.has(packed)) return unpacked.get(packed);
  const share = (text) => (text ? Array.from(bytesOf(text), (byte) => (byte === 255 ? null : byte / 250)) : []);
  const made = {
    box: boxReader(packed.boxes),
    states: bytesOf(packed.states),
    overlaps: share(packed.overlaps),
    confidences: share(packed.confidences),
  };
  unpacked.set(packed, made);
  return made;
}

export const truthOf = (sequence) => unpack(sequence.truth);
export const framesOf = (run) => unpack(run);

export const runOf = (sequence, tracker) =>
  report.runs.find((run) => run.sequence === sequence && run.tracker === tracker);
export const runsOn = (sequence) => report.runs.filter((run) => run.sequence === sequence);

// Every loss and absence with its run, in the order of the runs.
export const troubles = report.runs.flatMap((run) => run.troubles.map((trouble) => ({ run, ...trouble })));

// The look-alikes on a frame.
export function othersOn(sequence, frame) {
  return Object.entries(sequence.others).flatMap(([name, rows]) =>
    rows.filter((row) => row[0] === frame).map(([, x, y, w, h, angle]) => ({ name, x, y, w, h, angle })));
}

// Stretches of frames without the target.
export function absencesOf(sequence) {
  const { states } = truthOf(sequence);
  const spans = [];
  for (let frame = 0; frame < states.length; ++frame) {
    if (states[frame] !== 1) continue;
    if (spans.length && spans[spans.length - 1][1] === frame - 1) spans[spans.length - 1][1] = frame;
    else spans.push([frame, frame]);
  }
  return spans;
}
