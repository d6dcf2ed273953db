// The frame with what was marked and answered, and the pointer that marks.
import { frames, inner, smalls } from '/page/api.js';
import { el } from '/page/elements.js';
import { changed, markOn, momentShown, now, onChange, shownRow, versionOf } from '/page/state.js';
import { pointerDown, pointerMove, pointerUp, draftOutline } from '/page/marks.js';

const INKS = ['#e69f00', '#56b4e9'];
const DASHES = [[], [9, 5]];

const view = { scale: 1, x: 0, y: 0, isFitted: true };
const canvas = el('canvas', { role: 'img', tabIndex: 0, 'aria-label': 'The frame; drag to mark the target' });
let pan = null;
let shownFrame = -1;

export const frameAddress = (frame) => {
  const { width, name } = now.desk.input;
  // Frames that pass need not be fine.
  if (now.going === 'play' && width > 800 && view.isFitted) return `/frame?n=${frame}&half=1&of=${encodeURIComponent(name)}`;
  const wide = Math.round(canvas.clientWidth * Math.min(2, devicePixelRatio));
  // Making a picture smaller takes the program longer than sending it, unless it is much smaller.
  const asked = view.isFitted && 2 * wide <= width ? wide : 0;
  return `/frame?n=${frame}&width=${asked}&of=${encodeURIComponent(name)}`;
};
export const stageAddress = (frame, name, moment = momentShown()) => {
  const number = moment === 'preview' ? now.preview?.number ?? 0 : 0;
  return `/stage?moment=${moment}&lane=${now.lane}&n=${frame}&name=${encodeURIComponent(name)}&of=${versionOf(now.lane, frame)}.${number}`;
};
export const stagesAddress = (frame, names) => `/stages?moment=${momentShown()}&lane=${now.lane}&n=${frame}&${names.map((name) => `name=${encodeURIComponent(name)}`).join('&')}`;

function toFrame(event) {
  const area = canvas.getBoundingClientRect();
  let x = event.clientX - area.left;
  if (now.mirror) x = area.width - x;
  return { x: (x - view.x) / view.scale, y: (event.clientY - area.top - view.y) / view.scale };
}

export const pixelsPerPoint = () => 1 / view.scale;

function fit() {
  const { width, height } = now.desk.input;
  if (!width) return;
  view.scale = Math.min(canvas.clientWidth / width, canvas.clientHeight / height);
  view.x = (canvas.clientWidth - width * view.scale) / 2;
  view.y = (canvas.clientHeight - height * view.scale) / 2;
  view.isFitted = true;
}

export function zoom(factor, about = { x: canvas.clientWidth / 2, y: canvas.clientHeight / 2 }) {
  const scale = Math.min(40, Math.max(0.1, view.scale * factor));
  view.x = about.x - ((about.x - view.x) * scale) / view.scale;
  view.y = about.y - ((about.y - view.y) * scale) / view.scale;
  view.scale = scale;
  view.isFitted = false;
  draw();
}

export function resetZoom() {
  fit();
  draw();
}

// The colour of a frame's pixels in a small circle, from 0 to 255.
export function colourAt(place, radius = 2) {
  const bitmap = frames.get(frameAddress(now.at)).bitmap;
  if (!bitmap) return null;
  const scale = bitmap.width / now.desk.input.width;
  const side = Math.max(1, Math.round(2 * radius * scale));
  const small = new OffscreenCanvas(side, side);
  const ctx = small.getContext('2d');
  ctx.drawImage(bitmap, place.x * scale - side / 2, place.y * scale - side / 2, side, side, 0, 0, side, side);
  const pixels = ctx.getImageData(0, 0, side, side).data;
  const sums = [0, 0, 0];
  for (let i = 0; i < pixels.length; i += 4) for (let k = 0; k < 3; k += 1) sums[k] += pixels[i + k];
  return sums.map((sum) => Math.round((sum * 4) / pixels.length));
}

function outline(ctx, box, ink, dash, width = 2) {
  ctx.save();
  ctx.translate(box.x + box.w / 2, box.y + box.h / 2);
  ctx.rotate(((box.angle ?? 0) * Math.PI) / 180);
  for (const [colour, extra] of [['#000000b0', 2], [ink, 0]]) {
    ctx.strokeStyle = colour;
    ctx.lineWidth = (width + extra) / view.scale;
    ctx.setLineDash(extra ? [] : dash.map((one) => one / view.scale));
    ctx.strokeRect(-box.w / 2, -box.h / 2, box.w, box.h);
  }
  ctx.restore();
}

const tints = new Map(); // of masks: white becomes a colour, black nothing
function tinted(bitmap, ink) {
  const key = ink;
  const known = tints.get(bitmap);
  if (known?.key === key) return known.picture;
  const picture = new OffscreenCanvas(bitmap.width, bitmap.height);
  const ctx = picture.getContext('2d');
  ctx.drawImage(bitmap, 0, 0);
  const pixels = ctx.getImageData(0, 0, bitmap.width, bitmap.height);
  const [r, g, b] = [1, 3, 5].map((at) => parseInt(ink.slice(at, at + 2), 16));
  for (let i = 0; i < pixels.data.length; i += 4) {
    const on = pixels.data[i] > 127;
    pixels.data.set([r, g, b, on ? 110 : 0], i);
  }
  ctx.putImageData(pixels, 0, 0);
  if (tints.size > 20) tints.clear();
  tints.set(bitmap, { key, picture });
  return picture;
}

const REST = 50; // ms on a frame, after which more is asked for than its small picture

// Frames that are passed while somebody drags are not asked for: they would hold up what follows them.
let rest = { frame: -1, timer: 0 };
function askAfterRest(frame) {
  if (rest.frame === frame) return;
  clearTimeout(rest.timer);
  rest = { frame, timer: setTimeout(() => {
    rest.frame = -1;
    if (now.at === frame) frames.get(frameAddress(frame)).coming.then(() => draw());
  }, REST) };
}

// The picture itself where it has come, and otherwise the small one.
function picture() {
  const address = frameAddress(now.at);
  const { input } = now.desk;
  const hasSmall = !input.is_live && now.at < input.small;
  if (!hasSmall || now.going || frames.has(address)) {
    const wanted = frames.get(address);
    if (wanted.bitmap) return wanted.bitmap;
    if (!wanted.failed) wanted.coming.then(() => draw()); // what has failed would be drawn again without an end
  } else askAfterRest(now.at);
  if (!hasSmall) return null;
  const small = smalls.get(`/small?n=${now.at}&of=${encodeURIComponent(input.name)}`);
  if (!small.bitmap && !small.failed) small.coming.then(() => draw());
  return small.bitmap;
}

export function draw() {
  const { desk } = now;
  if (!desk || !desk.input.width) return;
  const ratio = devicePixelRatio;
  const [wide, high] = [Math.round(canvas.clientWidth * ratio), Math.round(canvas.clientHeight * ratio)];
  if (canvas.width !== wide || canvas.height !== high) {
    canvas.width = wide;
    canvas.height = high;
    if (view.isFitted) fit();
  }
  const ctx = canvas.getContext('2d', { alpha: false });
  const shown = picture();
  if (shown) shownFrame = now.at;
  else if (shownFrame >= 0 && now.at !== shownFrame && now.going) return; // what is there stays until the next has come
  ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
  ctx.clearRect(0, 0, canvas.clientWidth, canvas.clientHeight);
  if (now.mirror) ctx.setTransform(-ratio, 0, 0, ratio, canvas.width, 0);
  ctx.translate(view.x, view.y);
  ctx.scale(view.scale, view.scale);
  ctx.imageSmoothingEnabled = view.scale < 3;
  if (shown) ctx.drawImage(shown, 0, 0, desk.input.width, desk.input.height);
  drawOver(ctx);
  canvas.dataset.frame = String(shown ? now.at : -1);
}

// What is never the target, hatched.
function drawKeptOut(ctx) {
  for (const corners of [...now.desk.input.keep_out, ...now.desk.keep_out]) {
    ctx.save();
    ctx.beginPath();
    corners.forEach(([x, y], i) => (i ? ctx.lineTo(x, y) : ctx.moveTo(x, y)));
    ctx.closePath();
    ctx.fillStyle = '#00000070';
    ctx.fill();
    ctx.strokeStyle = '#f4e4d4c0';
    ctx.lineWidth = 1 / view.scale;
    ctx.stroke();
    ctx.clip();
    const [xs, ys] = [0, 1].map((k) => corners.map((corner) => corner[k]));
    const [left, top, right, bottom] = [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
    ctx.beginPath();
    for (let at = left - (bottom - top); at < right; at += 9 / view.scale) {
      ctx.moveTo(at, bottom);
      ctx.lineTo(at + bottom - top, top);
    }
    ctx.stroke();
    ctx.restore();
  }
}

function drawOver(ctx) {
  const { desk } = now;
  drawKeptOut(ctx);
  if (now.stage) {
    const stage = inner.get(stageAddress(now.at, now.stage));
    const area = now.stageAreas?.[now.stage];
    if (stage.bitmap && area) {
      ctx.save();
      ctx.globalAlpha = 0.6;
      ctx.translate(area[0] + area[2] / 2, area[1] + area[3] / 2);
      ctx.rotate((area[4] * Math.PI) / 180);
      ctx.drawImage(stage.bitmap, -area[2] / 2, -area[3] / 2, area[2], area[3]);
      ctx.restore();
    }
  }
  if (!now.going)
    desk.lanes.forEach((lane, i) => {
      if (!shownRow(i, now.at) || !now.masks?.[i]) return;
      const moment = now.flip && lane.before ? 'before' : 'now';
      const mask = inner.get(`/mask?moment=${moment}&lane=${i}&n=${now.at}&of=${versionOf(i, now.at)}`);
      if (mask.bitmap) ctx.drawImage(tinted(mask.bitmap, INKS[i]), 0, 0);
      else if (!mask.failed) mask.coming.then(() => draw());
    });
  const label = desk.labelled?.[now.at];
  if (label) outline(ctx, { x: label[0], y: label[1], w: label[2], h: label[3], angle: label[4] }, '#f0e442', [3, 3], 2);
  // What the tracker looked at and did not take, faintly, with why.
  if (!now.going && now.candidates?.at === now.at && now.candidates.lane === now.lane)
    for (const one of now.candidates.list) {
      if (one.outcome === 'taken') continue;
      const [x, y, w, h] = one.box;
      ctx.save();
      ctx.globalAlpha = 0.65;
      outline(ctx, { x, y, w, h }, '#f4e4d4', [4, 4], 1);
      ctx.font = `${11 / view.scale}px "DejaVu Sans", sans-serif`;
      ctx.fillStyle = '#000000';
      const text = `${one.confidence.toFixed(2)} ${one.outcome}`;
      ctx.fillRect(x, y + h, ctx.measureText(text).width + 6 / view.scale, 15 / view.scale);
      ctx.fillStyle = '#ffffff';
      ctx.fillText(text, x + 3 / view.scale, y + h + 11 / view.scale);
      ctx.restore();
    }
  desk.lanes.forEach((lane, i) => {
    const row = shownRow(i, now.at);
    if (!row) return;
    outline(ctx, row, INKS[i], row.present ? DASHES[i] : [2, 5], row.present ? 2 : 1.5);
  });
  const mark = markOn(now.at);
  if (mark?.present) outline(ctx, { x: mark.box[0], y: mark.box[1], w: mark.box[2], h: mark.box[3], angle: mark.box[4] }, '#ffffff', [1, 3], 1);
  if (now.preview?.mask && now.draft) {
    const mask = inner.get(`/mask?moment=preview&lane=${now.lane}&n=${now.at}&of=${now.preview.number}`);
    if (mask.bitmap) ctx.drawImage(tinted(mask.bitmap, '#cc79a7'), 0, 0);
    else if (!mask.failed) mask.coming.then(() => draw());
  }
  draftOutline(ctx, view.scale);
  if (now.cross) {
    ctx.save();
    ctx.strokeStyle = '#ffffff90';
    ctx.lineWidth = 1 / view.scale;
    ctx.beginPath();
    ctx.moveTo(now.cross.x, 0);
    ctx.lineTo(now.cross.x, desk.input.height);
    ctx.moveTo(0, now.cross.y);
    ctx.lineTo(desk.input.width, now.cross.y);
    ctx.stroke();
    ctx.restore();
  }
}

export function screen() {
  canvas.addEventListener('pointerdown', (event) => {
    canvas.setPointerCapture(event.pointerId);
    canvas.focus();
    event.preventDefault();
    if (event.button === 1 || event.altKey) pan = { x: event.clientX - view.x, y: event.clientY - view.y };
    else if (event.button === 0) pointerDown(toFrame(event), event);
  });
  canvas.addEventListener('pointermove', (event) => {
    if (pan) {
      view.x = event.clientX - pan.x;
      view.y = event.clientY - pan.y;
      view.isFitted = false;
      draw();
      return;
    }
    const place = toFrame(event);
    const { width, height } = now.desk.input;
    now.cross = place.x >= 0 && place.y >= 0 && place.x < width && place.y < height ? place : null;
    pointerMove(place, event);
    changed('cross');
    draw();
  });
  canvas.addEventListener('pointerup', (event) => {
    if (pan) pan = null;
    else pointerUp(toFrame(event), event);
  });
  canvas.addEventListener('pointerleave', () => {
    now.cross = null;
    changed('cross');
    draw();
  });
  canvas.addEventListener('wheel', (event) => {
    event.preventDefault();
    const area = canvas.getBoundingClientRect();
    zoom(event.deltaY < 0 ? 1.2 : 1 / 1.2, { x: event.clientX - area.left, y: event.clientY - area.top });
  }, { passive: false });
  new ResizeObserver(() => {
    if (now.desk && view.isFitted) fit();
    draw();
  }).observe(canvas);
  onChange(['desk', 'at', 'draft', 'view'], draw);
  // While frames pass, rows are there before their frame is shown.
  onChange(['rows'], () => {
    if (!now.going) draw();
  });
  return canvas;
}
