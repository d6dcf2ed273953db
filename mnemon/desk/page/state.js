// What the page knows: the desk's state as the program tells it, the trackers' rows, and what somebody is about to do.
import { act } from '/page/api.js';

export const now = {
  desk: null,        // as the program told it last
  rows: [],          // of each lane: frame -> row
  before: [],        // the rows before the last change of a setting
  at: 0,             // the frame that is shown
  going: '',         // '', 'play' or 'run'
  tool: 'box',
  draft: null,       // a region that is not marked yet
  preview: null,     // what a tracker would make of it
  flip: false,       // whether what was before the last change is shown
  mirror: false,     // left and right swapped, to look at
  lane: 0,           // whose settings and stages are shown
  stage: '',         // laid over the frame
  stageNames: [],    // of the lane, as they were last
  stops: { lost: true, unsure: false, wrong: false },
  loop: null,        // [first, last]
  cross: null,       // where the pointer is, px of the frame
};

const listeners = [];

// Calls `listen` when one of these changes: 'desk', 'rows', 'at', 'draft', 'view', 'cross'.
export function onChange(kinds, listen) {
  listeners.push({ kinds, listen });
}

export function changed(...kinds) {
  for (const one of listeners) if (one.kinds.some((kind) => kinds.includes(kind))) one.listen();
}

export function say(text) {
  document.getElementById('message').textContent = text;
}

// Does something, and says why where it cannot be done.
export async function tell(message) {
  try {
    const answer = await act(message);
    say('');
    return answer;
  } catch (error) {
    say(error.message);
    return null;
  }
}

const FIELDS = ['frame', 'x', 'y', 'w', 'h', 'angle', 'confidence', 'present', 'ms', 'mark', 'overlap'];
const asRow = (numbers) => Object.fromEntries(FIELDS.map((name, i) => [name, numbers[i]]));

export function takeNews(news) {
  const kinds = [];
  if (news.state) {
    const other = now.desk && (now.desk.input.name !== news.state.input.name || now.desk.target !== news.state.target);
    // Labels come along where they are others.
    now.desk = { labelled: now.desk?.labelled ?? [], ...news.state };
    if (other) {
      now.rows = [];
      now.before = [];
      now.draft = null;
      now.preview = null;
    }
    if (now.at >= now.desk.input.frames) now.at = Math.max(0, now.desk.input.frames - 1);
    now.lane = Math.min(now.lane, now.desk.lanes.length - 1);
    kinds.push('desk');
  }
  for (const part of news.rows ?? []) {
    if (part.afresh || !now.rows[part.lane]) now.rows[part.lane] = new Map();
    for (const numbers of part.rows) now.rows[part.lane].set(numbers[0], asRow(numbers));
    kinds.push('rows');
  }
  if (kinds.length) changed(...kinds);
}

// The row as it was tried right after a change, until the row itself is there.
const triedRow = (lane, frame) => {
  const tried = now.desk?.lanes[lane]?.tried;
  return tried && tried[0] === frame ? asRow(tried) : null;
};
export const rowOf = (lane, frame) => now.rows[lane]?.get(frame) ?? triedRow(lane, frame);
// What tells a lane's pictures of a frame from those of before.
export const versionOf = (lane, frame) => `${now.desk.lanes[lane].generation}.${now.desk.target}${now.rows[lane]?.has(frame) ? '' : '.tried'}`;
export const shownRow = (lane, frame) => (now.flip && now.before[lane] ? now.before[lane].get(frame) ?? null : rowOf(lane, frame));
export const markOn = (frame) => now.desk.marks.find((mark) => mark.frame === frame) ?? null;
export const momentShown = () => (now.flip && now.desk.lanes[now.lane].before ? 'before' : 'now');

// Goes to a frame without any tracker following.
export function go(frame) {
  const last = now.desk.input.frames - 1;
  const to = Math.min(last, Math.max(now.desk.input.first, Math.round(frame)));
  if (to === now.at) return;
  now.at = to;
  changed('at');
  goLater();
}

let pending = 0;
function goLater() {
  clearTimeout(pending);
  pending = setTimeout(() => act({ do: 'go', at: now.at }).catch(() => {}), 120);
}

// Changes a setting; what the trackers said until now stays as 'before'.
export async function set(message) {
  const kept = now.rows.map((rows) => new Map(rows));
  const answer = await tell({ do: 'set', ...message });
  if (answer) now.before = kept;
  changed('view');
  return answer;
}
