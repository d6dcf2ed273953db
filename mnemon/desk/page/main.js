// Puts the desk together: going through the frames, keys, and the panels.
import { act, frames, inner, listen } from '/page/api.js';
import { button, el, select } from '/page/elements.js';
import { changed, go, now, onChange, rowOf, say, set, takeNews, tell } from '/page/state.js';
import { draw, frameAddress, resetZoom, screen, stageAddress, stagesAddress, zoom } from '/page/screen.js';
import { chooseTool, draftRegion, dropDraft, keepOut, mark, markAbsent, nudge, tools, turn, unmark } from '/page/marks.js';
import { facts, strip } from '/page/strip.js';
import { loadTrackers, tunePanel } from '/page/tune.js';
import { stagesPanel, watchedStages } from '/page/stages.js';
import { acceptHere, commandLine, keepPanel, labelPanel, nextDoubtful } from '/page/keep.js';

const AHEAD = 24; // frames that the trackers are in front of what is shown

const last = () => now.desk.input.frames - 1;
const isFollowed = (frame) => now.desk.marks.some((one) => one.present && one.frame <= frame);
const isKnown = (frame) => !isFollowed(frame) || now.desk.lanes.every((lane, i) => lane.failure || rowOf(i, frame));

let asked = -1;
function reach(to) {
  const frame = Math.min(last(), to);
  asked = frame;
  return act({ do: 'go', at: now.at, to: frame, watch: watchedStages() }).catch((error) => say(error.message));
}

// Whether somebody wants to be stopped on this frame.
function stopsOn(frame) {
  return now.desk.lanes.some((lane, i) => {
    const row = rowOf(i, frame);
    const before = rowOf(i, frame - 1);
    if (!row || row.mark) return false;
    return (now.stops.lost && !row.present && before?.present) || (now.stops.unsure && row.confidence < 0.5 && (before?.confidence ?? 1) >= 0.5)
      || (now.stops.wrong && row.overlap !== null && row.overlap < 0.1 && (before?.overlap ?? 1) >= 0.1);
  });
}

function stop() {
  if (!now.going) return;
  now.going = '';
  tell({ do: 'go', at: now.at, stop: true });
  changed('at', 'view');
}

function start(how) {
  if (now.going === how) {
    stop();
    return;
  }
  dropDraft();
  now.going = how;
  shownAt = performance.now();
  reach(how === 'run' ? last() : now.at + AHEAD);
  changed('view');
  requestAnimationFrame(tick);
}

async function stepBy(frames_) {
  stop();
  const to = Math.min(last(), Math.max(0, now.at + frames_));
  now.at = to;
  changed('at');
  await reach(Math.max(now.desk.reach, to));
}

// Shows the next frame once its time has come, its picture is there and the trackers have answered.
let shownAt = 0;
let shownFrames = 0;
function tick(time) {
  if (!now.going) return;
  requestAnimationFrame(tick);
  const { desk } = now;
  if (now.going === 'run') {
    let to = now.at;
    while (to < last() && isKnown(to + 1)) {
      to += 1;
      if (stopsOn(to)) break;
    }
    if (to !== now.at) {
      const isStopped = stopsOn(to);
      now.at = to;
      changed('at');
      if (isStopped) stop();
    }
    if (now.at >= last() && !desk.input.is_live) stop();
    else if (desk.input.is_live && asked < last()) reach(last());
    return;
  }
  if (time - shownAt < 1000 / desk.input.rate_hz - 3) return;
  let next = now.at + 1;
  if (now.loop && next > now.loop[1]) {
    [next] = now.loop;
    // Each time round the tracker learns afresh from its mark.
    act({ do: 'go', again: next }).catch(() => {});
  }
  if (next > last()) {
    if (!desk.input.is_live) stop();
    return;
  }
  if (isFollowed(next) && asked < Math.min(last(), next + AHEAD / 2)) reach(next + AHEAD);
  for (let i = 0; i < 5; i += 1) if (next + i <= last()) frames.get(frameAddress(next + i));
  if (!isKnown(next) || !frames.get(frameAddress(next)).bitmap) return;
  const watched = watchedStages();
  if (watched.length && rowOf(now.lane, next)) inner.fetchTogether(stagesAddress(next, watched), watched.map((name) => stageAddress(next, name)));
  shownAt = Math.max(shownAt + 1000 / desk.input.rate_hz, time - 30);
  now.at = next;
  shownFrames += 1;
  document.body.dataset.played = String(shownFrames);
  changed('at');
  if (stopsOn(next)) stop();
}

const panels = { tune: tunePanel(), stages: stagesPanel(), labels: labelPanel(), keep: keepPanel() };
const TABS = [['tune', 'Tune', '1'], ['stages', 'Look inside', '2'], ['labels', 'Label', '3'], ['keep', 'Keep', '4']];
const tabs = TABS.map(([name, text, key]) => button(text, () => showPanel(name), { role: 'tab', title: key, id: `tab-${name}` }));

function showPanel(name) {
  TABS.forEach(([one], i) => {
    panels[one].hidden = one !== name;
    tabs[i].setAttribute('aria-selected', String(one === name));
  });
  panels[name].fill();
}

function goingBar() {
  const play = button('▶ Play', () => start('play'), { id: 'play', title: 'Space' });
  const run = button('To the end', () => start('run'), { id: 'run', title: 'r: as fast as the trackers go' });
  const stops = Object.keys(now.stops).map((name) => el('label', {}, el('input', { type: 'checkbox', checked: now.stops[name], id: `stop-${name}`, onchange: (event) => {
    now.stops[name] = event.target.checked;
  } }), ` ${name}`));
  const loop = button('Loop', () => {
    const from = [...now.desk.marks].reverse().find((one) => one.present && one.frame <= now.at);
    if (!now.loop && !from) say('Mark the target before the frame on which the loop is to end.');
    else now.loop = now.loop ? null : [from.frame, Math.max(now.at, from.frame + 1)];
    changed('view');
  }, { title: 'l: from the last mark to here, again and again', id: 'loop' });
  const mirror = button('Mirror', () => {
    now.mirror = !now.mirror;
    changed('view');
  }, { title: 'm: left and right swapped, to look at' });
  onChange(['view', 'desk'], () => {
    play.textContent = now.going === 'play' ? '■ Stop' : '▶ Play';
    run.textContent = now.going === 'run' ? '■ Stop' : now.desk?.input.is_live ? 'Follow live' : 'To the end';
    loop.setAttribute('aria-pressed', String(Boolean(now.loop)));
    mirror.setAttribute('aria-pressed', String(now.mirror));
  });
  return [button('‹', () => stepBy(-1), { title: 'Left: a frame back; with shift ten', 'aria-label': 'A frame back' }),
    button('Step ›', () => stepBy(1), { id: 'step', title: 'Right: the trackers follow to the next frame; with shift ten' }), play, run,
    el('span', { class: 'soft' }, 'stop where'), ...stops, loop, mirror,
    button('Fit', resetZoom, { title: 'z: the whole frame' }), button('Help', () => help.showModal(), { title: '?' }), facts()];
}

const KEYS = [
  ['Space', 'play or stop'], ['r', 'run to the end'], ['Right, Left', 'a frame on or back, or move the draft by 1 px'], ['Shift', 'with an arrow: by ten'],
  ['Ctrl + arrow', 'the draft larger or smaller'], ['b, t, o', 'box, turned box, outline'], ['i, x', 'places on the target, and off it'], ['p', 'a mask from a picture'], ['c', 'take a colour'],
  ['[ , ]', 'turn the draft by 1°, with shift by 10°'], ['Enter', 'mark, or end an outline'], ['Escape', 'drop the draft, or stop'], ['a', 'the target is absent here'], ['k', 'what is drawn is never the target'],
  ['Delete', 'take the mark away'], ['e', 'begin with the box that is here'], ['u', 'undo'], ['f', 'before the last change, and back'],
  ['s', 'lay a stage over the frame'], ['l', 'loop from the last mark to here'], ['n, y', 'next doubtful label; it is right'], ['1 to 4', 'the panels'],
  ['+, -, z', 'zoom, and the whole frame'], ['m', 'mirror'], ['Alt + drag', 'move the picture'], ['Home, End', 'the first and the last frame'],
];
const help = el('dialog', { 'aria-label': 'Keys' }, el('h2', {}, 'Keys'), el('dl', {}, ...KEYS.flatMap(([key, what]) => [el('dt', {}, key), el('dd', {}, what)])), button('Close', () => help.close()));

const ARROWS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
const ACTIONS = {
  ' ': () => start('play'),
  r: () => start('run'),
  b: () => chooseTool('box'), t: () => chooseTool('oriented'), o: () => chooseTool('polygon'), i: () => chooseTool('on'), x: () => chooseTool('off'), c: () => chooseTool('colour'),
  '[': () => turn(-1), ']': () => turn(1), '{': () => turn(-10), '}': () => turn(10),
  Enter: mark,
  Escape: () => (draftRegion() || now.draft ? dropDraft() : stop()),
  p: () => document.getElementById('mask-file').click(),
  a: markAbsent, Delete: unmark, k: keepOut,
  e: () => document.getElementById('adopt').click(),
  u: () => set({ undo: true }),
  f: () => document.getElementById('flip')?.click(),
  l: () => document.getElementById('loop').click(),
  m: () => {
    now.mirror = !now.mirror;
    changed('view');
  },
  s: () => {
    const known = Object.keys(now.stageAreas ?? {});
    now.stage = known[(known.indexOf(now.stage) + 1) % (known.length + 1)] ?? '';
    changed('view');
  },
  n: nextDoubtful, y: acceptHere,
  '+': () => zoom(1.25), '=': () => zoom(1.25), '-': () => zoom(0.8), z: resetZoom,
  Home: () => go(0), End: () => go(last()),
  '?': () => help.showModal(),
  1: () => showPanel('tune'), 2: () => showPanel('stages'), 3: () => showPanel('labels'), 4: () => showPanel('keep'),
};

document.addEventListener('keydown', (event) => {
  const { target, key } = event;
  const isTyping = ['SELECT', 'TEXTAREA'].includes(target.tagName) || (target.tagName === 'INPUT' && target.type !== 'checkbox');
  if (!now.desk || help.open || isTyping || event.metaKey) return;
  if ([' ', 'Enter'].includes(key) && target.tagName === 'BUTTON') return;
  if (ARROWS[key]) {
    event.preventDefault();
    const by = event.shiftKey ? 10 : 1;
    const [dx, dy] = ARROWS[key].map((one) => one * by);
    if (!nudge(dx, dy, event.ctrlKey) && dx) stepBy(dx);
    return;
  }
  if (event.ctrlKey || event.altKey || !ACTIONS[key]) return;
  event.preventDefault();
  ACTIONS[key](event);
});

// Which frames, which target.
function inputBar() {
  const part = el('span', { class: 'bar' });
  let key = '';
  onChange(['desk'], () => {
    const { desk } = now;
    const next = JSON.stringify([desk.choices, desk.input.name, desk.targets, desk.target]);
    if (next === key) return;
    key = next;
    part.replaceChildren(
      desk.choices.length > 1 ? select('', desk.choices.map((one) => [one, one.split('/').pop()]), desk.input.name, (sequence) => tell({ do: 'open', sequence }).then(() => go(0))) : el('b', {}, desk.input.title),
      desk.targets.length > 1 ? select('', desk.targets.map((name, i) => [String(i), name]), String(desk.target), (index) => tell({ do: 'target', index: Number(index) })) : '',
      button('Another target', () => tell({ do: 'target', new: true }), { title: 'Follow something else beside it, in a trace of its own' }));
  });
  return part;
}

const FEW = 10; // frames that are soon there, so that no bar has to be shown for them

// How far the slowest tracker has come from the last mark to the frame that is shown: frames done, and all of them. Null where
// none is on its way there.
function following() {
  const { desk, at } = now;
  if (now.going || at > desk.reach || !isFollowed(at)) return null;
  const from = Math.max(...desk.marks.map((one) => one.frame).filter((frame) => frame <= at));
  const done = desk.lanes.map((lane, i) => {
    let frame = at;
    while (!lane.failure && frame > from && !now.rows[i]?.has(frame)) frame -= 1;
    return frame - from;
  });
  return { done: Math.min(...done), total: at - from };
}

function progressPart() {
  const bar = el('progress', { max: 1 });
  const text = el('span');
  const away = button('stop', () => tell({ do: 'go', stop: true }), { hidden: true });
  let isFollowing = false;
  onChange(['desk', 'rows', 'at'], () => {
    if (!now.desk) return;
    const { input, job } = now.desk;
    const way = job ? null : following();
    isFollowing = way !== null && way.total - way.done > (isFollowing ? 0 : FEW);
    away.hidden = !job;
    if (job) {
      text.textContent = `${job.name} ${job.total ? `${job.done} of ${job.total}` : ''} `;
      bar.value = job.total ? job.done / job.total : 0;
    } else if (isFollowing) {
      text.textContent = `following, ${way.done} of ${way.total} frames`;
      bar.value = way.done / way.total;
    } else if (!input.is_live && input.small < input.frames && !input.trouble) {
      text.textContent = `small pictures ${input.small} of ${input.frames}`;
      bar.value = input.small / input.frames;
    } else text.textContent = input.is_live ? `live, ${input.frames} frames${input.remark ? `; ${input.remark}` : ''}` : '';
    bar.hidden = !isFollowing && (!text.textContent || input.is_live);
  });
  onChange(['desk'], () => {
    const { input, result } = now.desk;
    if (input.trouble) say(input.trouble);
    else if (result.failure) say(result.failure);
  });
  return [text, away, bar];
}

const COVERS = {
  held: 'Another tab has this desk.',
  taken: 'Another tab has taken this desk.',
  gone: 'The program has ended, or does not answer. What was kept is kept.',
};

function cover(why) {
  stop();
  const again = button(why === 'gone' ? 'Try again' : 'Take it here', () => {
    shade.remove();
    connect(why !== 'gone');
  }, { class: 'go' });
  const shade = el('div', { class: 'cover', role: 'alert' }, COVERS[why], again);
  document.body.append(shade);
}

let isLive = null;
function connect(take) {
  listen((news) => {
    takeNews(news);
    document.body.dataset.ready = 'yes';
    // A live picture is shown as it comes, until somebody holds it.
    if (isLive === null) isLive = now.desk.input.is_live && !now.desk.marks.length;
    if (isLive && !now.going && !now.draft && !now.desk.marks.length) go(last());
    if (isFollowed(now.at) && now.masks === undefined && rowOf(now.lane, now.at)) panels.stages.fill();
    if (!catalogueAsked) {
      catalogueAsked = true;
      loadTrackers().then(() => panels.tune.fill());
    }
  }, cover, take);
}
let catalogueAsked = false;

document.getElementById('tools').append(...tools());
document.getElementById('screen').append(screen());
document.getElementById('going').append(...goingBar());
document.getElementById('strip').append(strip());
document.getElementById('tabs').append(...tabs);
document.getElementById('panel').append(...Object.values(panels));
document.getElementById('command').append(...commandLine());
document.getElementById('input').append(inputBar());
document.getElementById('progress').append(...progressPart());
document.body.append(help);
showPanel('tune');
onChange(['draft'], () => {
  if (now.draft) isLive = false;
});
connect(false);
draw();
