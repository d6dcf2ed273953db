// The trackers and their parameters.
import { button, el, select } from '/page/elements.js';
import { whenFree } from '/page/hands.js';
import { changed, now, onChange, say, set, tell } from '/page/state.js';

let catalogue = null;

export async function loadTrackers() {
  const answer = await tell({ do: 'trackers' });
  catalogue = answer ? answer.trackers : [];
}

const entryOf = (name) => catalogue.find((entry) => entry.name === name);
const asText = (value) => (typeof value === 'number' && !Number.isInteger(value) ? String(Math.round(value * 1e6) / 1e6) : String(value));

// Sliders of numbers that span powers of ten go by their logarithm.
function scaleOf(field) {
  const isWide = field.low > 0 && field.high / field.low > 50;
  const to = isWide ? (value) => Math.log(value / field.low) / Math.log(field.high / field.low) : (value) => (value - field.low) / (field.high - field.low);
  const from = isWide ? (share) => field.low * (field.high / field.low) ** share : (share) => field.low + share * (field.high - field.low);
  const isWhole = field.type === 'whole number';
  return { to, from: (share) => (isWhole ? Math.round(from(share)) : Number(from(share).toPrecision(3))) };
}

function control(field, value) {
  const change = (next) => set({ lane: now.lane, values: { [field.name]: next } });
  const id = `field-${field.name}`;
  if (field.type === 'true or false') return { id, box: el('input', { id, type: 'checkbox', checked: value, onchange: (event) => change(event.target.checked) }), below: null };
  if (field.type === 'word') {
    const box = el('select', { id, onchange: () => change(box.value) }, ...field.choices.map((word) => el('option', { value: word, selected: word === value }, word)));
    return { id, box, below: null };
  }
  if (field.type === 'list of words') return { id, box: el('input', { id, type: 'text', value, onchange: (event) => change(event.target.value) }), below: null };
  const scale = scaleOf(field);
  const box = el('input', { id, type: 'number', min: field.low, max: field.high, step: field.type === 'whole number' ? 1 : 'any', value: asText(value), onchange: () => (box.value === '' ? say(`${field.name} is ${field.low} to ${field.high} ${field.unit}`) : change(Number(box.value))) });
  const slider = el('input', { id: `${id}-slider`, type: 'range', min: 0, max: 1, step: 0.001, value: scale.to(value), 'aria-label': `${field.name}, slider`, oninput: () => {
    box.value = asText(scale.from(Number(slider.value)));
  }, onchange: () => change(scale.from(Number(slider.value))) });
  return { id, box, below: slider };
}

function fieldPart(field, lane) {
  const value = lane.values[field.name];
  const { id, box, below } = control(field, value);
  const range = field.low === undefined ? '' : `${asText(field.low)} to ${asText(field.high)}`;
  const isSet = field.name in lane.set;
  return el('div', { class: isSet ? 'field changed' : 'field' },
    el('div', { class: 'line' }, el('label', { htmlFor: id }, field.name), box,
      button('↺', () => set({ lane: now.lane, reset: field.name }), { title: `Back to ${asText(field.default)}`, disabled: !isSet, 'aria-label': `${field.name} back to its default` })),
    below,
    el('p', {}, [range, field.unit].filter(Boolean).join(' '), range || field.unit ? '. ' : '', `Usually ${asText(field.default)}. `, field.help, field.acts_at === 'seed' ? ' Acts from the seed on.' : ''));
}

// What the last trial of all parameters gave.
function varied() {
  const { result } = now.desk;
  if (result.job !== 'vary' || !result.rows) return null;
  return el('div', {}, el('h2', {}, `Which parameters matter here: ${result.measure} ${result.base.toFixed(3)} as it is`),
    el('table', { id: 'varied' }, el('thead', {}, el('tr', {}, ...['parameter', 'value', 'gives', 'change'].map((name) => el('th', {}, name)))),
      el('tbody', {}, ...result.rows.slice(0, 12).map((row) => el('tr', {}, el('td', {}, button(row.name, () => set({ lane: now.lane, values: { [row.name]: row.value } }), { title: 'Take this value' })),
        el('td', {}, asText(row.value)), el('td', {}, row.result.toFixed(3)), el('td', {}, `${row.result >= result.base ? '+' : '−'}${Math.abs(row.result - result.base).toFixed(3)}`))))),
    el('p', { class: 'note' }, 'Each was halved or doubled, or exchanged, one at a time, from the last mark to this frame. A few frames of one sequence are little to tune by.'));
}

export function tunePanel() {
  const part = el('div');
  let shown = '';
  const fill = whenFree(part, () => {
    if (!now.desk || !catalogue) return;
    const lane = now.desk.lanes[now.lane];
    const key = JSON.stringify([now.lane, now.desk.lanes.map((one) => [one.tracker, one.set, one.failure, Boolean(one.before)]), now.desk.can_undo, now.desk.job?.name, now.desk.result]);
    if (key === shown) return;
    shown = key;
    const focused = document.activeElement?.id;
    const entry = entryOf(lane.tracker);
    const chooser = select('', catalogue.map((one) => [one.name, one.name]), lane.tracker, (name) => set({ lane: now.lane, tracker: name }));
    chooser.querySelector('select').id = 'tracker';
    chooser.querySelector('select').setAttribute('aria-label', 'Tracker');
    part.replaceChildren(
      el('div', { class: 'bar' }, ...now.desk.lanes.map((one, i) => button(`${i + 1}: ${one.tracker}`, () => {
        now.lane = i;
        changed('view', 'desk');
      }, { class: `lane${i}`, 'aria-pressed': String(i === now.lane) })),
      now.desk.lanes.length < 2 ? button('Another beside it', () => set({ add: lane.tracker === 'corr-kernel' ? 'mask-memory' : 'corr-kernel' }), { id: 'add-lane', title: 'A second tracker on the same marks' }) : button('Take away', () => set({ drop: now.lane }), { title: 'Take this tracker away' })),
      el('div', { class: 'bar' }, chooser,
        button('Undo', () => set({ undo: true }), { title: 'u: take the last mark or setting back', disabled: !now.desk.can_undo }),
        button('Before', () => {
          now.flip = !now.flip;
          changed('view');
        }, { id: 'flip', title: 'f: show what was before the last change', disabled: !lane.before, 'aria-pressed': String(now.flip) }),
        button('What matters here', () => tell({ do: 'vary', lane: now.lane, frame: now.at }), { id: 'vary', title: 'Halves and doubles each parameter over the frames since the mark', disabled: Boolean(now.desk.job) })),
      el('p', { class: 'note' }, entry.summary, entry.paper ? ` After ${entry.paper}.` : ''),
      lane.failure ? el('p', { id: 'failure' }, `It stopped: ${lane.failure}`) : '',
      varied() ?? '',
      ...entry.parameters.map((field) => fieldPart(field, lane)));
    if (focused) document.getElementById(focused)?.focus();
  });
  onChange(['desk', 'view'], fill);
  part.fill = () => {
    shown = '';
    fill();
  };
  return part;
}
