// Marking: tools, the region that is being drawn, its numbers, and what a tracker would make of it.
import { button, el } from '/page/elements.js';
import { changed, markOn, now, onChange, say, set, tell } from '/page/state.js';
import { colourAt, pixelsPerPoint } from '/page/screen.js';

const LARGEST = 3e6; // bytes of a mask's file: a request has 4 MB at most, and text takes a third more

const TOOLS = [
  ['box', 'Box', 'b: drag a box around the target'],
  ['oriented', 'Turned', 't: drag a box, then turn it with [ and ]'],
  ['polygon', 'Outline', 'o: click corner after corner, Enter ends'],
  ['on', 'On it', 'i: click places on the target; it is cut out'],
  ['off', 'Off it', 'x: click places that are not the target'],
  ['colour', 'Colour', 'c: click a colour for a tracker that goes by colour'],
];

let drag = null;
let previewed = 0;
let numbers = null;

const round = (value) => Math.round(value * 10) / 10;

// The region of the draft as messages have it; null while there is none.
export function draftRegion() {
  const { draft } = now;
  if (!draft) return null;
  if (draft.kind === 'box') return { box: draft.box.map(round) };
  if (draft.kind === 'oriented') return { oriented: [...draft.box.map(round), round(draft.angle)] };
  if (draft.kind === 'mask') return { picture: draft.bytes };
  if (draft.kind === 'polygon') return draft.corners.length > 2 ? { polygon: draft.corners.map((corner) => corner.map(round)) } : null;
  if (!draft.include.length) return null;
  const points = { include: draft.include.map((point) => point.map(round)) };
  if (draft.exclude.length) points.exclude = draft.exclude.map((point) => point.map(round));
  return { points };
}

function setDraft(draft) {
  now.draft = draft;
  now.preview = null;
  changed('draft');
  clearTimeout(previewed);
  if (draft && !drag) previewed = setTimeout(preview, 150);
}

let previews = 0;
async function preview() {
  const region = draftRegion();
  if (!region || now.going) return;
  const { draft } = now;
  const answer = await tell({ do: 'preview', frame: now.at, region, lane: now.lane });
  if (!answer || now.draft !== draft) return;
  previews += 1;
  now.preview = { ...answer, number: previews };
  changed('view');
}

export async function mark() {
  const region = draftRegion();
  if (!region) {
    say('Mark the target first: drag a box around it, or click places on it.');
    return;
  }
  if (await tell({ do: 'mark', frame: now.at, region })) setDraft(null);
}

// The corners of the draft, where it is an area.
function draftCorners() {
  const { draft } = now;
  if (draft?.corners) return draft.corners.length > 2 ? draft.corners : null;
  if (!draft?.box) return null;
  const [x, y, w, h] = draft.box;
  const turn = ((draft.angle ?? 0) * Math.PI) / 180;
  const [cos, sin] = [Math.cos(turn) / 2, Math.sin(turn) / 2];
  return [[-1, -1], [1, -1], [1, 1], [-1, 1]].map(([sx, sy]) => [x + w / 2 + sx * w * cos - sy * h * sin, y + h / 2 + sx * w * sin + sy * h * cos]);
}

// The draft becomes an area that is never the target; without a draft all such areas go.
export async function keepOut() {
  const corners = draftCorners();
  const areas = now.desk.keep_out;
  if (corners) {
    if (await tell({ do: 'keep_out', areas: [...areas, corners.map((corner) => corner.map(round))] })) setDraft(null);
  } else if (areas.length && !now.draft) await tell({ do: 'keep_out', areas: [] });
  else say('Draw a box or an outline around what is never the target first.');
}

export const markAbsent = () => tell({ do: 'mark', frame: now.at, absent: true });
export const unmark = () => tell({ do: 'mark', unmark: now.at });
export const dropDraft = () => setDraft(null);

export function chooseTool(tool) {
  now.tool = tool;
  changed('draft');
}

// A draft begins as what is there already: the mark of this frame, or what the tracker says.
function draftFrom(box) {
  setDraft(box[4] ? { kind: 'oriented', box: box.slice(0, 4), angle: box[4] } : { kind: 'box', box: box.slice(0, 4) });
}

export function nudge(dx, dy, isGrowing) {
  const { draft } = now;
  if (!draft) return false;
  if (draft.box && isGrowing) setDraft({ ...draft, box: [draft.box[0], draft.box[1], Math.max(1, draft.box[2] + dx), Math.max(1, draft.box[3] + dy)] });
  else if (draft.box) setDraft({ ...draft, box: [draft.box[0] + dx, draft.box[1] + dy, draft.box[2], draft.box[3]] });
  else if (draft.corners) setDraft({ ...draft, corners: draft.corners.map(([x, y]) => [x + dx, y + dy]) });
  else if (draft.kind === 'mask') return false;
  else setDraft({ ...draft, include: draft.include.map(([x, y]) => [x + dx, y + dy]) });
  return true;
}

export function turn(degrees) {
  const { draft } = now;
  if (!draft?.box) return;
  setDraft({ kind: 'oriented', box: draft.box, angle: (((((draft.angle ?? 0) + degrees + 180) % 360) + 360) % 360) - 180 });
}

async function takeColour(place) {
  const colour = colourAt(place);
  const { values } = now.desk.lanes[now.lane];
  if (!('red' in values && 'colour' in values)) {
    say('This tracker does not go by a given colour; choose blob-colour, for one.');
    return;
  }
  if (colour) await set({ lane: now.lane, values: { colour: 'given', red: colour[0], green: colour[1], blue: colour[2] } });
}

// Which corner or side of the draft's box is under the pointer.
function gripAt(place) {
  const { draft } = now;
  if (!draft?.box || draft.angle) return null;
  const near = 7 * pixelsPerPoint();
  const [x, y, w, h] = draft.box;
  const side = (value, low, size) => (Math.abs(value - low) < near ? -1 : Math.abs(value - low - size) < near ? 1 : value > low && value < low + size ? 0 : null);
  const [sx, sy] = [side(place.x, x, w), side(place.y, y, h)];
  return sx === null || sy === null ? null : { sx, sy, box: draft.box };
}

export function pointerDown(place, event) {
  if (!now.desk?.input.width || now.going) return;
  if (now.tool === 'colour') {
    takeColour(place);
    return;
  }
  const point = [place.x, place.y];
  if (now.tool === 'polygon') {
    const corners = now.draft?.kind === 'polygon' ? now.draft.corners : [];
    setDraft({ kind: 'polygon', corners: [...corners, point] });
    return;
  }
  if (now.tool === 'on' || now.tool === 'off') {
    const draft = now.draft?.kind === 'points' ? now.draft : { kind: 'points', include: [], exclude: [] };
    const isOff = now.tool === 'off' || event.shiftKey;
    setDraft(isOff ? { ...draft, exclude: [...draft.exclude, point] } : { ...draft, include: [...draft.include, point] });
    return;
  }
  const grip = gripAt(place);
  drag = { from: place, grip, kind: now.tool };
}

export function pointerMove(place) {
  if (!drag) return;
  if (drag.grip) {
    const { sx, sy, box } = drag.grip;
    const [dx, dy] = [place.x - drag.from.x, place.y - drag.from.y];
    const isMoved = sx === 0 && sy === 0;
    const along = (s, low, size, d) => (isMoved ? [low + d, size] : s < 0 ? [low + d, size - d] : s > 0 ? [low, size + d] : [low, size]);
    const [x, w] = along(sx, box[0], box[2], dx);
    const [y, h] = along(sy, box[1], box[3], dy);
    now.draft = { kind: now.draft?.kind ?? 'box', angle: now.draft?.angle ?? 0, box: [Math.min(x, x + w), Math.min(y, y + h), Math.abs(w), Math.abs(h)] };
  } else {
    const [x, y] = [Math.min(place.x, drag.from.x), Math.min(place.y, drag.from.y)];
    const box = [x, y, Math.abs(place.x - drag.from.x), Math.abs(place.y - drag.from.y)];
    now.draft = { kind: drag.kind === 'oriented' ? 'oriented' : 'box', angle: 0, box };
  }
  changed('draft');
}

export function pointerUp() {
  if (!drag) return;
  drag = null;
  const { draft } = now;
  if (draft?.box && (draft.box[2] < 2 || draft.box[3] < 2)) setDraft(null);
  else setDraft(draft);
}

export function draftOutline(ctx, scale) {
  const { draft } = now;
  if (!draft) return;
  ctx.save();
  const strokes = (path) => {
    for (const [ink, width] of [['#000000b0', 4], ['#ff8c5a', 2]]) {
      ctx.strokeStyle = ink;
      ctx.lineWidth = width / scale;
      path();
      ctx.stroke();
    }
  };
  if (draft.box) {
    const [x, y, w, h] = draft.box;
    ctx.translate(x + w / 2, y + h / 2);
    ctx.rotate(((draft.angle ?? 0) * Math.PI) / 180);
    strokes(() => {
      ctx.beginPath();
      ctx.rect(-w / 2, -h / 2, w, h);
    });
    ctx.fillStyle = '#ff8c5a';
    const grip = 3 / scale;
    for (const sx of [-1, 0, 1]) for (const sy of [-1, 0, 1]) if (sx || sy) ctx.fillRect((sx * w) / 2 - grip, (sy * h) / 2 - grip, 2 * grip, 2 * grip);
  } else if (draft.corners) {
    strokes(() => {
      ctx.beginPath();
      draft.corners.forEach(([x, y], i) => (i ? ctx.lineTo(x, y) : ctx.moveTo(x, y)));
      if (draft.corners.length > 2) ctx.closePath();
    });
  } else if (draft.kind === 'mask') {
    ctx.drawImage(draft.picture, 0, 0);
  } else {
    for (const [list, ink] of [[draft.include, '#2ecc71'], [draft.exclude, '#e74c3c']])
      for (const [x, y] of list) {
        ctx.beginPath();
        ctx.arc(x, y, 5 / scale, 0, 7);
        ctx.fillStyle = ink;
        ctx.fill();
        ctx.strokeStyle = '#000000';
        ctx.lineWidth = 1 / scale;
        ctx.stroke();
      }
  }
  ctx.restore();
}

// Numbers that are typed: x, y, w, h and perhaps an angle.
function typed(text) {
  const values = text.split(/[\s,]+/).filter(Boolean).map(Number);
  if (![4, 5].includes(values.length) || values.some((value) => !Number.isFinite(value)) || values[2] <= 0 || values[3] <= 0) {
    say('A box is x, y, w, h in pixels, and an angle in degrees where it is turned.');
    return;
  }
  say('');
  draftFrom(values);
}

// A picture of the frame's size that is not black where the target is.
async function maskFrom(file) {
  const { width, height } = now.desk.input;
  const bitmap = await createImageBitmap(file).catch(() => null);
  if (!bitmap) {
    say(`${file.name} is no picture: a mask is a PNG or JPEG that is not black where the target is.`);
    return;
  }
  if (bitmap.width !== width || bitmap.height !== height) {
    say(`${file.name} has ${bitmap.width} × ${bitmap.height} pixels, the frames have ${width} × ${height}.`);
    return;
  }
  if (file.size > LARGEST) {
    say(`${file.name} is larger than ${LARGEST / 1e6} MB: save the mask as PNG, in black and white.`);
    return;
  }
  const picture = new OffscreenCanvas(width, height);
  const ctx = picture.getContext('2d');
  ctx.drawImage(bitmap, 0, 0);
  const pixels = ctx.getImageData(0, 0, width, height);
  for (let i = 0; i < pixels.data.length; i += 4) {
    const isOn = pixels.data[i] || pixels.data[i + 1] || pixels.data[i + 2];
    pixels.data.set(isOn ? [255, 140, 90, 150] : [0, 0, 0, 0], i);
  }
  ctx.putImageData(pixels, 0, 0);
  let text = '';
  for (const byte of new Uint8Array(await file.arrayBuffer())) text += String.fromCharCode(byte);
  say('');
  setDraft({ kind: 'mask', bytes: btoa(text), picture });
}

export function tools() {
  const buttons = TOOLS.map(([name, text, title]) => button(text, () => chooseTool(name), { title, 'aria-pressed': 'false' }));
  numbers = el('input', { type: 'text', 'aria-label': 'The box in numbers: x, y, w, h, angle', placeholder: 'x, y, w, h', onchange: () => typed(numbers.value) });
  const file = el('input', { id: 'mask-file', type: 'file', accept: 'image/png,image/jpeg', hidden: true, 'aria-label': 'A mask from a picture', onchange: () => {
    if (file.files.length) maskFrom(file.files[0]);
    file.value = ''; // the same once more is a choice, too
  } });
  const picture = button('Mask…', () => file.click(), { title: "p: a picture of the frame's size that is not black where the target is" });
  const take = button('Mark', mark, { class: 'go', title: 'Enter: mark the target here' });
  const absent = button('Absent', markAbsent, { title: 'a: the target is not to be seen here' });
  const away = button('Unmark', unmark, { title: 'Delete: take the mark of this frame away' });
  const adopt = button('Take box', () => {
    const row = now.rows[now.lane]?.get(now.at);
    const known = markOn(now.at);
    if (known?.present) draftFrom(known.box);
    else if (row) draftFrom([row.x, row.y, row.w, row.h, row.angle]);
    else say('There is neither a mark nor an answer on this frame.');
  }, { title: 'e: begin with the box that is here, to correct it' });
  adopt.id = 'adopt';
  const keep = button('Keep out', keepOut, { id: 'keep-out' });
  const show = () => {
    buttons.forEach((one, i) => one.setAttribute('aria-pressed', String(TOOLS[i][0] === now.tool)));
    const { draft } = now;
    if (document.activeElement !== numbers) numbers.value = draft?.box ? [...draft.box, ...(draft.angle ? [draft.angle] : [])].map(round).join(', ') : '';
    take.disabled = !draftRegion();
    const isClearing = !draft && Boolean(now.desk?.keep_out.length);
    keep.textContent = isClearing ? 'Let in' : 'Keep out';
    keep.title = isClearing ? 'k: no area is kept out any more' : 'k: what is drawn is never the target, on any frame';
    keep.disabled = !isClearing && !draftCorners();
    away.disabled = !now.desk || !markOn(now.at);
  };
  onChange(['draft', 'desk', 'view'], show);
  onChange(['at'], () => {
    if (now.draft) setDraft(null);
    else if (!now.going) show();
  });
  show();
  return [...buttons, picture, file, numbers, take, absent, away, adopt, keep];
}

export const previewStages = () => (now.draft && now.preview ? now.preview.stages : null);
