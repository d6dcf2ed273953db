// What is chosen for the whole page, kept in the address, so that a view can be sent to somebody.
import { ranked, sequences } from 'mnemon/data';

const listeners = [];

export const state = {
  trackers: new Set(ranked.map((tracker) => tracker.id)),
  sequences: new Set(sequences.keys()),
  view: { sequence: sequences.keys().next().value ?? -1, frame: 0, focus: ranked[0]?.id ?? -1, pin: null },
  losses: { kind: '', cause: '', tag: '', sort: 'frame', down: false },
};

const all = (set, keys) => set.size === keys.length;

function address() {
  const parts = new URLSearchParams();
  const known = ranked.map((tracker) => tracker.id);
  if (!all(state.trackers, known)) parts.set('trackers', [...state.trackers].join('.'));
  if (!all(state.sequences, [...sequences.keys()])) parts.set('sequences', [...state.sequences].join('.'));
  const { sequence, frame, focus, pin } = state.view;
  if (sequence >= 0) parts.set('view', [sequence, frame, focus, pin ?? ''].join('.'));
  for (const key of ['kind', 'cause', 'tag']) if (state.losses[key]) parts.set(key, state.losses[key]);
  return parts.toString();
}

function numbers(text, known) {
  return text.split('.').filter((part) => part !== '').map(Number).filter((number) => known(number));
}

function readAddress() {
  const parts = new URLSearchParams(location.hash.slice(1));
  if (parts.has('trackers')) state.trackers = new Set(numbers(parts.get('trackers'), (id) => ranked.some((one) => one.id === id)));
  if (parts.has('sequences')) state.sequences = new Set(numbers(parts.get('sequences'), (id) => sequences.has(id)));
  if (parts.has('view')) {
    const [sequence, frame, focus, pin] = parts.get('view').split('.');
    if (sequences.has(Number(sequence))) {
      const last = sequences.get(Number(sequence)).frames - 1;
      const inside = (text) => Math.min(last, Math.max(0, Math.round(Number(text)) || 0));
      state.view = { sequence: Number(sequence), frame: inside(frame), focus: Number(focus), pin: pin ? inside(pin) : null };
    }
  }
  for (const key of ['kind', 'cause', 'tag']) if (parts.has(key)) state.losses[key] = parts.get(key);
}

// Calls `listen` whenever something of what it names changes: 'chosen', 'view' or 'losses'.
export function onChange(kinds, listen) {
  listeners.push({ kinds, listen });
}

let pending = 0;

export function change(kind, values) {
  Object.assign(kind === 'chosen' ? state : state[kind], values);
  for (const one of listeners) if (one.kinds.includes(kind)) one.listen();
  // Browsers refuse a page that writes its address at every frame of a film.
  clearTimeout(pending);
  pending = setTimeout(() => {
    try {
      history.replaceState(null, '', `#${address()}`);
    } catch {
      // Then the address stays as it was.
    }
  }, 150);
}

export const isShown = (tracker) => state.trackers.has(tracker);
export const isOn = (sequence) => state.sequences.has(sequence);

readAddress();
