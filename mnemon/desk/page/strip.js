// Over time: confidence, overlap with truth, size, losses and marks. A click goes there; dragging scrubs.
import { el } from '/page/elements.js';
import { changed, go, now, onChange, rowOf } from '/page/state.js';

const INKS = ['#c77f00', '#2f7cab'];
const HEIGHT = 96;
const GUTTER = 62;

const canvas = el('canvas', { role: 'img', tabIndex: 0, 'aria-label': 'Confidence, overlap and size over time; click to go there' });
const lines = document.createElement('canvas');
let isDragging = false;

const across = () => Math.max(1, canvas.clientWidth - GUTTER - 6);
const last = () => Math.max(1, now.desk.input.frames - 1);
const xOf = (frame) => GUTTER + (frame / last()) * across();

function frameAt(event) {
  const area = canvas.getBoundingClientRect();
  return ((event.clientX - area.left - GUTTER) / across()) * last();
}

// A line through a lane's rows, at most one point a pixel.
function line(ctx, rows, of, top, high, ink, dash) {
  ctx.strokeStyle = ink;
  ctx.setLineDash(dash);
  ctx.lineWidth = 1.4;
  ctx.beginPath();
  const stride = Math.max(1, Math.floor(last() / across()));
  let isOpen = false;
  for (let frame = 0; frame <= last(); frame += stride) {
    const row = rows?.get(frame);
    const value = row ? of(row) : null;
    if (value === null || value === undefined) {
      isOpen = false;
      continue;
    }
    const y = top + (1 - Math.min(1, Math.max(0, value))) * high;
    if (isOpen) ctx.lineTo(xOf(frame), y);
    else ctx.moveTo(xOf(frame), y);
    isOpen = true;
  }
  ctx.stroke();
  ctx.setLineDash([]);
}

// All but the cursor, which moves at every frame.
function drawLines() {
  const { desk } = now;
  if (!desk || !canvas.clientWidth) return;
  const ratio = devicePixelRatio;
  lines.width = Math.round(canvas.clientWidth * ratio);
  lines.height = Math.round(HEIGHT * ratio);
  const ctx = lines.getContext('2d');
  ctx.scale(ratio, ratio);
  ctx.font = '11px "DejaVu Sans", sans-serif';
  const bands = [['confidence', 6, 26, (row) => row.confidence], ['size', 66, 14, null]];
  bands.splice(1, 0, ['overlap', 36, 26, (row) => row.overlap]);
  for (const [name, top, high] of bands) {
    ctx.fillStyle = '#ffffff';
    ctx.fillRect(GUTTER, top, across(), high);
    ctx.fillStyle = '#645d52';
    ctx.fillText(name, 0, top + high / 2 + 4);
  }
  desk.lanes.forEach((lane, i) => {
    const rows = now.rows[i];
    ctx.fillStyle = '#a8401c55';
    if (rows) for (const row of rows.values()) if (!row.present) ctx.fillRect(xOf(row.frame) - 0.5, 6 + i * 13, Math.max(1, across() / last()), 13);
    let largest = 1;
    if (rows) for (const row of rows.values()) largest = Math.max(largest, row.w * row.h);
    for (const [, top, high, of] of bands) {
      const value = of ?? ((row) => Math.sqrt((row.w * row.h) / largest));
      if (now.flip && now.before[i]) line(ctx, now.before[i], value, top, high, '#8a8378', [2, 3]);
      line(ctx, rows, value, top, high, INKS[i], i ? [5, 3] : []);
    }
  });
  for (const mark of desk.marks) {
    ctx.fillStyle = mark.present ? '#26221c' : '#a8401c';
    ctx.beginPath();
    ctx.moveTo(xOf(mark.frame), 82);
    ctx.lineTo(xOf(mark.frame) - 5, 93);
    ctx.lineTo(xOf(mark.frame) + 5, 93);
    ctx.fill();
  }
  for (const one of desk.review) {
    ctx.fillStyle = '#b8860b';
    ctx.fillRect(xOf(one.frame) - 1, 88, 2, 5);
  }
  if (now.loop) {
    ctx.fillStyle = '#26221c18';
    ctx.fillRect(xOf(now.loop[0]), 0, xOf(now.loop[1]) - xOf(now.loop[0]), 82);
  }
}

const PASSING = 100; // ms from one drawing of the strip and the facts to the next, while frames pass
let isAsked = false;
let isStale = true;
let linesAt = 0;
let drawnAt = 0;
function draw() {
  if (!now.desk || !canvas.clientWidth) return;
  const ratio = devicePixelRatio;
  const time = performance.now();
  // While frames pass the cursor moves some times a second and the lines grow a few times: drawing takes from the frames.
  if (now.going && time - drawnAt < PASSING) return;
  drawnAt = time;
  if (isStale && (!now.going || time - linesAt > 2 * PASSING)) {
    drawLines();
    isStale = false;
    linesAt = time;
  }
  if (canvas.width !== lines.width || canvas.height !== lines.height) {
    canvas.width = lines.width;
    canvas.height = lines.height;
  }
  const ctx = canvas.getContext('2d');
  ctx.setTransform(1, 0, 0, 1, 0, 0);
  ctx.clearRect(0, 0, canvas.width, canvas.height);
  if (lines.width && lines.height) ctx.drawImage(lines, 0, 0);
  ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
  ctx.strokeStyle = '#26221c';
  ctx.lineWidth = 1;
  ctx.beginPath();
  ctx.moveTo(xOf(now.at), 2);
  ctx.lineTo(xOf(now.at), 94);
  ctx.stroke();
}

function drawSoon() {
  if (isAsked) return;
  isAsked = true;
  requestAnimationFrame(() => {
    isAsked = false;
    draw();
  });
}

function drawAllSoon() {
  isStale = true;
  drawSoon();
}

export function strip() {
  canvas.addEventListener('pointerdown', (event) => {
    canvas.setPointerCapture(event.pointerId);
    isDragging = true;
    now.going = '';
    changed('view');
    go(frameAt(event));
  });
  canvas.addEventListener('pointermove', (event) => {
    if (isDragging) go(frameAt(event));
  });
  canvas.addEventListener('pointerup', () => {
    isDragging = false;
  });
  new ResizeObserver(drawAllSoon).observe(canvas);
  onChange(['desk', 'rows', 'view'], drawAllSoon);
  onChange(['at'], drawSoon);
  return canvas;
}

// What the trackers say on this frame, in words.
export function facts() {
  const part = el('div', { class: 'facts' });
  let saidAt = 0;
  const fill = () => {
    if (!now.desk) return;
    const time = performance.now();
    if (now.going && time - saidAt < PASSING) return;
    saidAt = time;
    part.classList.toggle('two', now.desk.lanes.length > 1); // room for both, so that nothing moves under the pointer once they are said
    const share = (ms) => `${Math.round((ms * now.desk.input.rate_hz) / 10)} % of a frame's time`;
    part.replaceChildren(el('span', {}, `frame ${now.at} of ${now.desk.input.frames - 1}`),
      ...now.desk.lanes.map((lane, i) => {
        const row = rowOf(i, now.at);
        const said = !row ? 'nothing yet' : `${row.present ? 'sure' : 'lost,'} ${row.confidence.toFixed(2)}${row.overlap === null ? '' : `, overlap ${row.overlap.toFixed(2)}`}${row.ms === null ? '' : `, ${row.ms.toFixed(1)} ms: ${share(row.ms)}`}`;
        return el('span', { class: `lane${i}` }, `${lane.tracker}: ${said}`);
      }));
  };
  onChange(['desk', 'at'], fill);
  onChange(['rows'], () => {
    if (!now.going) fill();
  });
  return part;
}
