// What the report's page is made of.
import { trackers } from 'mnemon/data';
import { button, el, fixed, select } from 'mnemon/elements';

export { button, el, fixed, select };

// What stands for a tracker beside its name.
export function swatch(tracker) {
  return el('i', { class: tracker.dashed ? 'swatch split' : 'swatch', style: { color: tracker.colour } });
}

export function trackerName(id) {
  const tracker = trackers.get(id);
  return el('span', { class: 'tracker' }, swatch(tracker), tracker.label);
}
