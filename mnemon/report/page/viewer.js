// Any frame of any sequence, with truth and the chosen trackers' answers, and their overlap and confidence over time.
import { absencesOf, framesOf, othersOn, runOf, runsOn, sequences, trackers, truthOf, troubles } from 'mnemon/data';
import { change, isOn, isShown, onChange, state } from 'mnemon/state';
import { button, el, fixed, select, trackerName } from 'mnemon/parts';

const STRIP_HEIGHT = 132;
const GUTTER = 26; // beside the strip, for its scale

const pictures = new Map();

// A picture that is decoded once; `whenThere` is called when it has come, if it is not there yet.
function picture(src, whenThere) {
  let image = pictures.get(src);
  if (!image) {
    image = new Image();
    image.src = src;
    pictures.set(src, image);
  }
  if (!image.complete) image.addEventListener('load', whenThere, { once: true });
  return image.complete && image.naturalWidth ? image : null;
}

const sequenceAt = () => sequences.get(state.view.sequence);
const shownRuns = () => runsOn(state.view.sequence).filter((run) => isShown(run.tracker));

function pictureAt(sequence, frame) {
  let nearest = null;
  for (const one of sequence.pictures)
    if (!nearest || Math.abs(one.frame - frame) < Math.abs(nearest.frame - frame)) nearest = one;
  return nearest;
}

function outline(ctx, box, scale, colour, dash, width = 2) {
  ctx.save();
  ctx.translate((box.x + box.w / 2) * scale, (box.y + box.h / 2) * scale);
  ctx.rotate((box.angle * Math.PI) / 180);
  ctx.strokeStyle = colour;
  ctx.lineWidth = width;
  ctx.setLineDash(dash);
  ctx.strokeRect((-box.w / 2) * scale, (-box.h / 2) * scale, box.w * scale, box.h * scale);
  ctx.restore();
}

// The kept picture nearest to the frame, and over it the crops of this very frame. \returns the picture's frame.
function drawPicture(ctx, canvas, sequence, frame, redraw) {
  const scale = canvas.width / sequence.width;
  const kept = pictureAt(sequence, frame);
  ctx.fillStyle = '#3a352d';
  ctx.fillRect(0, 0, canvas.width, canvas.height);
  const image = kept ? picture(kept.src, redraw) : null;
  if (image) ctx.drawImage(image, 0, 0, canvas.width, canvas.height);
  if (kept && kept.frame !== frame) {
    ctx.fillStyle = 'rgba(248, 246, 241, 0.45)';
    ctx.fillRect(0, 0, canvas.width, canvas.height);
  }
  // All are of one size, so that the smaller the window, the sharper.
  const crops = shownRuns().flatMap((run) => run.crops.filter((one) => one.frame === frame));
  for (const crop of crops.sort((a, b) => b.window[2] - a.window[2])) {
    const piece = picture(crop.src, redraw);
    if (piece) ctx.drawImage(piece, ...crop.window.map((part) => part * scale));
  }
  return kept ? kept.frame : null;
}

function drawBoxes(ctx, canvas, sequence, frame) {
  const scale = canvas.width / sequence.width;
  const truth = truthOf(sequence);
  for (const other of othersOn(sequence, frame)) outline(ctx, other, scale, 'rgba(38, 34, 28, 0.55)', [2, 3], 1.5);
  for (const run of shownRuns()) {
    const frames = framesOf(run);
    const tracker = trackers.get(run.tracker);
    if (frames.states[frame] === 2)
      outline(ctx, frames.box(frame), scale, tracker.colour, tracker.dashed ? [7, 4] : [], run.tracker === state.view.focus ? 4 : 2);
  }
  if (truth.states[frame] === 2) {
    outline(ctx, truth.box(frame), scale, '#000000', [], 3.5);
    outline(ctx, truth.box(frame), scale, '#ffffff', [6, 4], 2);
  }
}

function screen(frameOf, caption) {
  const canvas = el('canvas', { class: 'screen', role: 'img', 'aria-label': 'nothing kept yet' });
  const text = el('figcaption', { class: 'note' });
  const made = el('figure', {}, canvas, text);
  made.draw = () => {
    const sequence = sequenceAt();
    const frame = frameOf();
    if (!sequence || frame === null) return;
    canvas.width = Math.min(960, Math.max(640, sequence.width));
    canvas.height = Math.round((canvas.width * sequence.height) / sequence.width);
    const ctx = canvas.getContext('2d');
    const kept = drawPicture(ctx, canvas, sequence, frame, made.draw);
    drawBoxes(ctx, canvas, sequence, frame);
    const said = caption(sequence, frame, kept);
    canvas.setAttribute('aria-label', said);
    text.textContent = said;
  };
  canvas.addEventListener('pointermove', (event) => {
    const sequence = sequenceAt();
    const area = canvas.getBoundingClientRect();
    canvas.title = `${Math.floor(((event.clientX - area.left) / area.width) * sequence.width)}, ${Math.floor(((event.clientY - area.top) / area.height) * sequence.height)} px`;
  });
  return made;
}

function captionOf(sequence, frame, kept) {
  const truth = truthOf(sequence);
  const there = truth.states[frame] === 1 ? 'the target is absent' : truth.states[frame] === 0 ? 'no truth' : '';
  const nearest = kept !== null && kept !== frame ? `picture of frame ${kept}, boxes of frame ${frame}` : '';
  return [`${sequence.name}, frame ${frame} of ${sequence.frames - 1}`, there, nearest].filter(Boolean).join('; ');
}

// Overlap as a line, confidence as a thin one, a tracker a colour; absences shaded; losses of the focus marked.
function drawStrip(canvas) {
  const sequence = sequenceAt();
  if (!sequence) return;
  const width = Math.max(320, Math.round(canvas.clientWidth || 900));
  canvas.width = width;
  canvas.height = STRIP_HEIGHT;
  const ctx = canvas.getContext('2d');
  const last = Math.max(1, sequence.frames - 1);
  const x = (frame) => GUTTER + (frame / last) * (width - GUTTER - 6);
  const y = (share) => 6 + (1 - share) * (STRIP_HEIGHT - 24);
  ctx.fillStyle = '#ffffff';
  ctx.fillRect(0, 0, width, STRIP_HEIGHT);
  ctx.fillStyle = '#e9e3d6';
  for (const [from, to] of absencesOf(sequence)) ctx.fillRect(x(from - 0.5), y(1), x(to + 0.5) - x(from - 0.5), y(0) - y(1));
  ctx.fillStyle = '#6b6459';
  ctx.strokeStyle = '#ece7dd';
  ctx.font = '11px "DejaVu Sans", Verdana, sans-serif';
  for (const share of [0, 0.5, 1]) {
    ctx.fillText(String(share), 2, y(share) + 4);
    ctx.beginPath();
    ctx.moveTo(GUTTER, y(share));
    ctx.lineTo(width - 6, y(share));
    ctx.stroke();
  }
  const line = (values, colour, weight, dash) => {
    ctx.strokeStyle = colour;
    ctx.lineWidth = weight;
    ctx.setLineDash(dash);
    ctx.beginPath();
    let down = false;
    values.forEach((value, frame) => {
      if (value === null) down = false;
      else {
        ctx[down ? 'lineTo' : 'moveTo'](x(frame), y(value));
        down = true;
      }
    });
    ctx.stroke();
    ctx.setLineDash([]);
  };
  for (const run of shownRuns()) {
    const tracker = trackers.get(run.tracker);
    const isFocus = run.tracker === state.view.focus;
    line(framesOf(run).overlaps, tracker.colour, isFocus ? 2.5 : 1.2, tracker.dashed ? [7, 4] : []);
    if (isFocus) line(framesOf(run).confidences, tracker.colour, 1, [2, 2]);
  }
  for (const trouble of troublesHere()) {
    ctx.fillStyle = trouble.kind === 'loss' ? '#a8401c' : '#6b6459';
    ctx.beginPath();
    ctx.moveTo(x(trouble.frame) - 5, STRIP_HEIGHT - 2);
    ctx.lineTo(x(trouble.frame) + 5, STRIP_HEIGHT - 2);
    ctx.lineTo(x(trouble.frame), STRIP_HEIGHT - 12);
    ctx.fill();
  }
  ctx.fillStyle = '#26221c';
  ctx.fillRect(x(state.view.frame) - 1, 0, 2, STRIP_HEIGHT);
}

function troublesHere() {
  return troubles.filter((one) => one.run.sequence === state.view.sequence && one.run.tracker === state.view.focus);
}

export function go(frame) {
  const sequence = sequenceAt();
  if (sequence) change('view', { frame: Math.min(sequence.frames - 1, Math.max(0, frame)) });
}

// To the next loss or absence of the trackers that are shown, or the one before.
function toTrouble(way) {
  const frames = [...new Set(troubles.filter((one) => one.run.sequence === state.view.sequence && isShown(one.run.tracker)).map((one) => one.frame))];
  frames.sort((a, b) => a - b);
  const next = way > 0 ? frames.find((frame) => frame > state.view.frame) : frames.filter((frame) => frame < state.view.frame).pop();
  if (next !== undefined) {
    const at = troubles.find((one) => one.run.sequence === state.view.sequence && one.frame === next && isShown(one.run.tracker));
    change('view', { frame: next, focus: at.run.tracker });
  }
}

let player = 0;

function playing(isOnNow) {
  clearInterval(player);
  player = 0;
  if (!isOnNow) return;
  const sequence = sequenceAt();
  player = setInterval(() => {
    if (state.view.frame >= sequence.frames - 1) playing(false);
    else go(state.view.frame + 1);
  }, 1000 / Math.min(60, Math.max(1, sequence.rate_hz)));
}

// Crops of the focus around where the view is, each with its boxes, and what the tracker saw inside.
function cropFigure(run, crop) {
  const side = 112;
  const canvas = el('canvas', { width: side, height: side, role: 'img', 'aria-label': `frame ${crop.frame}` });
  const draw = () => {
    const ctx = canvas.getContext('2d');
    const image = picture(crop.src, draw);
    if (image) ctx.drawImage(image, 0, 0, side, side);
    const [left, top, width] = crop.window;
    const scale = side / width;
    const move = (box) => ({ ...box, x: box.x - left, y: box.y - top });
    const frames = framesOf(run);
    const sequence = sequences.get(run.sequence);
    const truth = truthOf(sequence);
    const tracker = trackers.get(run.tracker);
    for (const other of othersOn(sequence, crop.frame)) outline(ctx, move(other), scale, 'rgba(38, 34, 28, 0.6)', [2, 3], 1.5);
    if (frames.states[crop.frame] === 2) outline(ctx, move(frames.box(crop.frame)), scale, tracker.colour, [], 2.5);
    if (truth.states[crop.frame] === 2) {
      outline(ctx, move(truth.box(crop.frame)), scale, '#000000', [], 2.5);
      outline(ctx, move(truth.box(crop.frame)), scale, '#ffffff', [4, 3], 1.5);
    }
  };
  draw();
  return canvas;
}

export function cropButton(run, crop, text) {
  return el('button', { type: 'button', class: 'crop', onclick: () => show(run.sequence, crop.frame, run.tracker) },
    cropFigure(run, crop), el('span', { class: 'note' }, text ?? String(crop.frame)));
}

// Scrolls to the viewer and shows a frame there.
export function show(sequence, frame, focus) {
  playing(false);
  const chosen = { sequence, frame, pin: null };
  if (focus !== undefined) chosen.focus = focus;
  if (focus !== undefined && !isShown(focus)) change('chosen', { trackers: new Set([...state.trackers, focus]) });
  change('view', chosen);
  document.getElementById('viewer').scrollIntoView({ block: 'start' });
  document.getElementById('viewer').focus({ preventScroll: true });
}

function nearestTrouble() {
  const here = troublesHere();
  const { frame } = state.view;
  return here.find((one) => one.frame === frame) ?? here.filter((one) => one.frame <= frame && frame <= one.frame + one.frames + 10).pop()
    ?? here.find((one) => one.frame > frame) ?? here[here.length - 1];
}

function aside() {
  const run = runOf(state.view.sequence, state.view.focus);
  const part = el('div', { class: 'moments' });
  const trouble = run ? nearestTrouble() : null;
  if (!trouble) return part;
  const last = trouble.frame + trouble.frames + 6;
  const crops = run.crops.filter((crop) => crop.frame >= trouble.frame - 8 && crop.frame <= last);
  const stages = run.stages.filter((stage) => stage.frame >= trouble.frame - 2 && stage.frame <= trouble.frame + 3);
  part.append(el('p', {}, trackerName(run.tracker), ` ${sentence(trouble)}`));
  if (crops.length) part.append(el('div', { class: 'crops' }, ...crops.map((crop) => cropButton(run, crop, `frame ${crop.frame}`))));
  if (stages.length) {
    part.append(el('p', { class: 'note' }, 'What it saw inside, lowest value black and highest white:'));
    part.append(el('div', { class: 'crops' }, ...stages.map((stage) => el('figure', { class: 'stage' },
      el('img', { src: stage.src, alt: `${stage.name} on frame ${stage.frame}` }),
      el('figcaption', { class: 'note' }, `${stage.frame}: ${stage.name}, ${fixed(stage.low, 2)} to ${fixed(stage.high, 2)}`)))));
  }
  return part;
}

const ENDS = {
  recovered: (frames) => `held it again ${frames} frames after that`,
  'returned late': (frames) => `held it again only ${frames} frames after that`,
  'never came back': (frames) => `did not hold it again in the ${frames} frames to the end`,
};

// A trouble in words.
export function sentence(trouble) {
  const what = trouble.kind === 'loss' ? `lost it on frame ${trouble.frame}` : `could not see it from frame ${trouble.frame} on, for ${trouble.absent_frames} frames`;
  const other = trouble.other ? ` (${trouble.other}, overlap ${fixed(trouble.overlap_with_other, 2)})` : '';
  const took = trouble.other && trouble.cause !== 'took another' ? `${trouble.cause}, and was on another now and then${other}` : `${trouble.cause}${other}`;
  const before = trouble.overlap_before === null ? '' : ` Before that overlap was ${fixed(trouble.overlap_before, 2)} and confidence ${fixed(trouble.confidence_before, 2)}.`;
  return `${what}: ${took}. It ${ENDS[trouble.end](trouble.frames)}.${before}`;
}

function legend() {
  const frame = state.view.frame;
  return el('div', { class: 'legend' }, ...shownRuns().map((run) => {
    const frames = framesOf(run);
    const overlap = fixed(frames.overlaps[frame] ?? null, 2);
    const said = frames.states[frame] === 1 ? 'says lost' : `sure ${fixed(frames.confidences[frame] ?? null, 2)}`;
    return el('button', {
      type: 'button', class: run.tracker === state.view.focus ? 'entry focus' : 'entry', 'aria-pressed': String(run.tracker === state.view.focus),
      onclick: () => change('view', { focus: run.tracker }),
    }, trackerName(run.tracker), el('span', { class: 'note' }, ` overlap ${overlap}, ${said}`));
  }));
}

const KEYS = {
  ArrowRight: (event) => go(state.view.frame + (event.shiftKey ? 10 : 1)),
  ArrowLeft: (event) => go(state.view.frame - (event.shiftKey ? 10 : 1)),
  Home: () => go(0),
  End: () => go(Infinity),
  n: () => toTrouble(1),
  b: () => toTrouble(-1),
  c: () => change('view', { pin: state.view.pin === null ? state.view.frame : null }),
  ' ': () => playing(!player),
};

export function viewer() {
  const main = screen(() => state.view.frame, captionOf);
  const pinned = screen(() => state.view.pin, (sequence, frame, kept) => `kept beside: ${captionOf(sequence, frame, kept)}`);
  const strip = el('canvas', { class: 'strip', role: 'img', 'aria-label': 'Overlap over time of the trackers that are shown' });
  const pick = el('span');
  const entries = el('div');
  const moments = el('div');
  const facts = el('p', { class: 'note' });
  strip.addEventListener('pointerdown', (event) => {
    const sequence = sequenceAt();
    const area = strip.getBoundingClientRect();
    const share = (event.clientX - area.left - GUTTER) / Math.max(1, area.width - GUTTER - 6);
    go(Math.round(share * (sequence.frames - 1)));
  });
  const part = el('section', { id: 'viewer', tabIndex: -1 },
    el('h2', {}, 'Look at a sequence'),
    el('div', { class: 'controls' }, pick,
      button('Play or stop', () => playing(!player), { title: 'Space' }),
      button('‹ frame', () => go(state.view.frame - 1), { title: 'Left arrow; with shift ten frames' }),
      button('frame ›', () => go(state.view.frame + 1), { title: 'Right arrow; with shift ten frames' }),
      button('‹ loss', () => toTrouble(-1), { title: 'b' }),
      button('next loss ›', () => toTrouble(1), { title: 'n' }),
      button('Keep this frame beside', () => KEYS.c(), { title: 'c' })),
    facts,
    el('div', { class: 'screens' }, main, pinned),
    strip,
    el('p', { class: 'note' }, 'Above: overlap of each tracker, and dotted the confidence of the one in focus; shaded where the target is absent; triangles mark its losses and absences. White dashes on the picture are truth, thin dots look-alikes.'),
    entries, moments);
  let momentsOf = '';
  const drawFrame = () => {
    main.draw();
    pinned.hidden = state.view.pin === null;
    pinned.draw();
    drawStrip(strip);
    entries.replaceChildren(legend());
    const trouble = nearestTrouble();
    const key = `${state.view.sequence} ${state.view.focus} ${trouble ? trouble.frame : ''}`;
    if (key !== momentsOf) moments.replaceChildren(aside());
    momentsOf = key;
  };
  const drawAll = () => {
    const sequence = sequenceAt();
    const choices = [...sequences.values()].filter((one) => isOn(one.id) || one.id === state.view.sequence).map((one) => [one.id, one.name]);
    pick.replaceChildren(select('Sequence', choices, state.view.sequence, (id) => change('view', { sequence: Number(id), frame: 0, pin: null })));
    facts.textContent = sequence ? `${sequence.title}. ${sequence.facts}.` : '';
    drawFrame();
  };
  let sequenceDrawn = null;
  onChange(['view'], () => {
    if (sequenceDrawn !== state.view.sequence) {
      sequenceDrawn = state.view.sequence;
      drawAll();
    } else drawFrame();
  });
  onChange(['chosen'], drawAll);
  document.addEventListener('keydown', (event) => {
    const isTyping = ['SELECT', 'INPUT', 'TEXTAREA'].includes(event.target.tagName);
    const isPressed = event.key === ' ' && event.target.tagName === 'BUTTON';
    if (isTyping || isPressed || event.ctrlKey || event.metaKey || event.altKey || !KEYS[event.key]) return;
    if (!part.contains(event.target) && ['Home', 'End', ' ', 'ArrowLeft', 'ArrowRight'].includes(event.key)) return;
    event.preventDefault();
    KEYS[event.key](event);
  });
  part.draw = () => {
    sequenceDrawn = state.view.sequence;
    drawAll();
  };
  return part;
}
