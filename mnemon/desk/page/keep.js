// Labels, and what can be taken away.
import { button, el } from '/page/elements.js';
import { whenFree } from '/page/hands.js';
import { go, now, onChange, tell } from '/page/state.js';

export function labelPanel() {
  const part = el('div');
  const fill = whenFree(part, () => {
    const { desk } = now;
    if (!desk) return;
    const count = desk.labelled.length;
    const marks = desk.marks.length;
    const isBusy = Boolean(desk.job);
    const review = desk.review.slice(0, 300);
    part.replaceChildren(
      el('p', {}, 'Mark the target on a few frames, and on those where it is gone as absent. The tracker then goes forwards from each mark and backwards from the next, and every frame gets a label.'),
      el('div', { class: 'bar' },
        button('Label all frames', () => tell({ do: 'label', lane: now.lane }), { id: 'label', class: 'go', disabled: isBusy || !marks }),
        button('Keep the labels', () => tell({ do: 'keep', what: 'labels' }), { id: 'keep-labels', disabled: !count })),
      el('p', { class: 'note' }, `${marks} marks. ${count ? `${count} frames labelled; ${desk.review.length} to look at.` : 'No labels yet.'}`),
      count ? el('p', { class: 'note' }, 'n goes to the next doubtful frame; y says that its label is right; marking again and labelling anew mends it.') : '',
      el('h2', {}, 'Marks'),
      el('ul', {}, ...desk.marks.map((mark) => el('li', {}, button(`frame ${mark.frame}`, () => go(mark.frame)), mark.present ? ` ${Object.keys(mark.region)[0]}` : ' absent'))),
      review.length ? el('h2', {}, 'To look at') : '',
      el('ul', { id: 'review' }, ...review.map((one) => el('li', {}, button(`frame ${one.frame}`, () => go(one.frame)), ` ${one.why} (${one.sure.toFixed(2)}) `, button('right', () => tell({ do: 'accept', frame: one.frame }), { title: 'y: the label is right' })))));
  });
  let key = '';
  onChange(['desk'], () => {
    const next = JSON.stringify([now.desk.marks, now.desk.review, now.desk.labelled.length, Boolean(now.desk.job), now.desk.target, now.desk.input.name]);
    if (next !== key) fill();
    key = next;
  });
  part.fill = fill;
  return part;
}

export function nextDoubtful() {
  const after = now.desk.review.find((one) => one.frame > now.at) ?? now.desk.review[0];
  if (after) go(after.frame);
}

export function acceptHere() {
  if (now.desk.review.some((one) => one.frame === now.at)) tell({ do: 'accept', frame: now.at }).then(nextDoubtful);
}

const KEPT = [
  ['settings', 'Settings', 'tracker and parameters, for follow --settings', true],
  ['trace', 'Trace', 'its answers, a row a frame, and the call that gives the same', true],
  ['marks', 'Marks', 'for label --marks', false],
  ['labels', 'Labels', 'a sequence with truth, masks and what to review', false],
  ['overlay', 'Film', 'the frames with what the trackers said', false],
  ['plan', 'Plan', 'these trackers with these settings, for bench', false],
];

export function keepPanel() {
  const part = el('div');
  const fill = whenFree(part, () => {
    const { desk } = now;
    if (!desk) return;
    part.replaceChildren(
      el('p', {}, 'What you keep goes to ', el('b', {}, desk.folder), ':'),
      ...KEPT.map(([what, name, help, isOfLane]) => el('div', { class: 'field' }, el('div', { class: 'bar' },
        button(name, () => tell({ do: 'keep', what, lane: now.lane }), { 'data-keep': what, disabled: what === 'overlay' && Boolean(desk.job) }), el('span', { class: 'note' }, help)),
      isOfLane && desk.lanes.length > 1 ? el('p', { class: 'note' }, `of ${desk.lanes[now.lane].tracker}`) : null)),
      desk.kept.length ? el('h2', {}, 'Kept') : '',
      el('ul', { id: 'kept' }, ...desk.kept.map((name) => el('li', {}, name))));
  });
  let key = '';
  onChange(['desk', 'view'], () => {
    const { folder, kept, job, lanes } = now.desk;
    const next = JSON.stringify([folder, kept, Boolean(job), now.lane, lanes.map((lane) => lane.tracker)]);
    if (next !== key) fill();
    key = next;
  });
  part.fill = fill;
  return part;
}

// The call that does the same, always in sight.
export function commandLine() {
  const code = el('code', { id: 'same' });
  const copy = button('Copy', async () => {
    await navigator.clipboard.writeText(code.textContent).catch(() => {
      getSelection().selectAllChildren(code);
    });
    copy.textContent = 'Copied';
    setTimeout(() => {
      copy.textContent = 'Copy';
    }, 1500);
  }, { title: 'Copy the call that gives the same trace' });
  onChange(['desk', 'view'], () => {
    const call = now.desk.lanes[now.lane].command || 'Mark the target: the call of the program that does the same will stand here.';
    if (code.textContent !== call) code.textContent = call; // what is selected stays selected
  });
  return [el('span', { class: 'note' }, 'The same as'), code, copy];
}
