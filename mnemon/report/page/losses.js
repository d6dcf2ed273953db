// Every loss and absence one by one, and the worst moments of the study.
import { ranked, sequences, trackers, troubles } from 'mnemon/data';
import { change, isOn, isShown, onChange, state } from 'mnemon/state';
import { button, el, fixed, select, trackerName } from 'mnemon/parts';
import { cropButton, sentence, show } from 'mnemon/viewer';

const FIRST_ROWS = 60;
const TOGETHER = 15; // losses that begin within so many frames are one moment
const MOST_MOMENTS = 4;

const isChosen = (one) => isShown(one.run.tracker) && isOn(one.run.sequence);

const SORTS = {
  tracker: (one) => trackers.get(one.run.tracker).label,
  sequence: (one) => sequences.get(one.run.sequence).name,
  frame: (one) => one.frame,
  what: (one) => one.kind,
  cause: (one) => one.cause,
  instead: (one) => one.other ?? '~',
  frames: (one) => one.frames,
  'came back': (one) => one.end,
  'overlap before': (one) => one.overlap_before ?? -1,
  'confidence before': (one) => one.confidence_before ?? -1,
};

function matching() {
  const { kind, cause, tag, sort, down } = state.losses;
  const rows = troubles.filter((one) => isChosen(one) && (!kind || one.kind === kind) && (!cause || one.cause === cause) && (!tag || one.tags.includes(tag)));
  const by = SORTS[sort] ?? SORTS.frame;
  rows.sort((a, b) => {
    const [left, right] = [by(a), by(b)];
    const order = typeof left === 'string' ? left.localeCompare(right) : left - right;
    return down ? -order : order;
  });
  return rows;
}

function rowOf(one) {
  const open = () => show(one.run.sequence, one.frame, one.run.tracker);
  return el('tr', { class: 'link', onclick: open },
    el('td', { class: 'name' }, trackerName(one.run.tracker)),
    el('td', { class: 'name' }, sequences.get(one.run.sequence).name),
    el('td', {}, el('button', { type: 'button', class: 'frame', title: 'Show it', onclick: (event) => { event.stopPropagation(); open(); } }, String(one.frame))),
    el('td', { class: 'name' }, one.kind),
    el('td', { class: 'name' }, one.cause),
    el('td', { class: 'name' }, one.other ?? '–'),
    el('td', {}, String(one.frames)),
    el('td', { class: 'name' }, one.end),
    el('td', {}, fixed(one.overlap_before, 2)),
    el('td', {}, fixed(one.confidence_before, 2)),
    el('td', { class: 'name soft' }, one.tags.join(', ')));
}

export function lossList() {
  const body = el('tbody');
  const count = el('p', { class: 'note', role: 'status' });
  const filters = el('div', { class: 'controls' });
  const more = el('p');
  let isWhole = false;
  const heads = [...Object.keys(SORTS), 'tags'].map((name) => {
    const isName = !['frame', 'frames', 'overlap before', 'confidence before'].includes(name);
    const sort = () => change('losses', { sort: name, down: state.losses.sort === name ? !state.losses.down : false });
    return el('th', { class: isName ? 'name' : '', scope: 'col' }, SORTS[name] ? el('button', { type: 'button', class: 'sort', onclick: sort }, name) : name);
  });
  const fill = () => {
    const rows = matching();
    const shown = isWhole ? rows : rows.slice(0, FIRST_ROWS);
    body.replaceChildren(...shown.map(rowOf));
    count.textContent = rows.length ? `${rows.length} of ${troubles.length}. Click one to see it.` : 'None of these trackers on these sequences, with these filters.';
    more.replaceChildren(...(shown.length < rows.length ? [button(`Show the other ${rows.length - shown.length}`, () => { isWhole = true; fill(); })] : []));
    const values = (of) => [['', 'any'], ...[...new Set(troubles.flatMap(of))].sort().map((value) => [value, value])];
    filters.replaceChildren(
      select('What', values((one) => [one.kind]), state.losses.kind, (kind) => change('losses', { kind })),
      select('Cause', values((one) => [one.cause]), state.losses.cause, (cause) => change('losses', { cause })),
      select('Tag', values((one) => one.tags), state.losses.tag, (tag) => change('losses', { tag })));
    heads.forEach((head) => head.setAttribute('aria-sort', head.textContent === state.losses.sort ? (state.losses.down ? 'descending' : 'ascending') : 'none'));
  };
  onChange(['chosen', 'losses'], fill);
  fill();
  return el('section', { id: 'losses' }, el('h2', {}, 'Every loss and absence'), filters, count,
    el('div', { class: 'wide', tabIndex: 0 }, el('table', {}, el('thead', {}, el('tr', {}, ...heads)), body)), more,
    el('p', { class: 'note' }, 'A loss is five present frames in a row with overlap below 0.1; it ends when overlap reaches 0.5. Causes are what truth and answers tell: ' +
      'on a look-alike for a third of the first frames or more (took another); claimed nothing (said lost); the box a quarter or four times as large (shrank or swelled); ' +
      'where the target had been (stayed behind); or none of these (went elsewhere).'));
}

// Losses that begin at nearly the same time on a sequence: who lost there.
function moments() {
  const bySequence = new Map();
  for (const one of troubles.filter((trouble) => trouble.kind === 'loss' && isChosen(trouble) && !trackers.get(trouble.run.tracker).floor)) {
    const list = bySequence.get(one.run.sequence) ?? [];
    list.push(one);
    bySequence.set(one.run.sequence, list);
  }
  const found = [];
  for (const list of bySequence.values()) {
    list.sort((a, b) => a.frame - b.frame);
    let group = [];
    for (const one of list) {
      if (group.length && one.frame - group[0].frame > TOGETHER) {
        found.push(group);
        group = [];
      }
      if (!group.some((other) => other.run === one.run)) group.push(one);
    }
    if (group.length) found.push(group);
  }
  return found;
}

function momentPart(group) {
  const first = group[0];
  const crops = group.map((one) => {
    const crop = one.run.crops.find((each) => each.frame === one.frame + 1) ?? one.run.crops.find((each) => each.frame >= one.frame);
    return crop ? cropButton(one.run, crop, `${trackers.get(one.run.tracker).label}, ${crop.frame}`) : null;
  });
  const names = group.map((one) => trackers.get(one.run.tracker).label).join(', ');
  return el('div', { class: 'moment' },
    el('p', {}, el('button', { type: 'button', class: 'frame', onclick: () => show(first.run.sequence, first.frame, first.run.tracker) },
      `${sequences.get(first.run.sequence).name}, frame ${first.frame}`),
    group.length === 1 ? ` ${trackers.get(first.run.tracker).label} alone ${sentence(first)}` : ` ${group.length} trackers lost it: ${names}.`),
    el('div', { class: 'crops' }, ...crops.slice(0, 10)));
}

export function worstMoments() {
  const most = el('div');
  const alone = el('div');
  const fill = () => {
    const found = moments();
    const together = found.filter((group) => group.length > 1).sort((a, b) => b.length - a.length);
    // Of those that lost alone, the better trackers tell more.
    const place = (group) => ranked.findIndex((tracker) => tracker.id === group[0].run.tracker);
    const single = found.filter((group) => group.length === 1).sort((a, b) => place(a) - place(b));
    const put = (part, groups, none) => part.replaceChildren(...(groups.length ? groups.slice(0, MOST_MOMENTS).map(momentPart) : [el('p', { class: 'note' }, none)]));
    put(most, together, 'No two of these trackers lost the target at the same time.');
    put(alone, single, 'No tracker lost it alone.');
  };
  onChange(['chosen'], fill);
  fill();
  return el('section', { id: 'worst' }, el('h2', {}, 'Worst moments'),
    el('h3', {}, 'Where most trackers lost it'), most, el('h3', {}, 'Where one lost it and no other did'), alone);
}
