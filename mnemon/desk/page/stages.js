// The inner pictures of a tracker's last step, beside the frame or over it, with the value under the pointer.
import { act, inner } from '/page/api.js';
import { button, el } from '/page/elements.js';
import { changed, momentShown, now, onChange, rowOf, versionOf } from '/page/state.js';
import { draw as drawScreen, stageAddress } from '/page/screen.js';
import { previewStages } from '/page/marks.js';

const shown = (number) => (Math.abs(number) >= 1000 || (number !== 0 && Math.abs(number) < 0.01) ? number.toExponential(2) : number.toFixed(3));

// A place of the frame in a stage that lies there, as shares of its sides; null where it does not.
function within(area, place) {
  const turned = (-area[4] * Math.PI) / 180;
  const [dx, dy] = [place.x - area[0] - area[2] / 2, place.y - area[1] - area[3] / 2];
  const u = (dx * Math.cos(turned) - dy * Math.sin(turned)) / area[2] + 0.5;
  const v = (dx * Math.sin(turned) + dy * Math.cos(turned)) / area[3] + 0.5;
  return u >= 0 && v >= 0 && u < 1 && v < 1 ? [u, v] : null;
}

function placeOf(area, u, v) {
  const turned = (area[4] * Math.PI) / 180;
  const [dx, dy] = [(u - 0.5) * area[2], (v - 0.5) * area[3]];
  return { x: area[0] + area[2] / 2 + dx * Math.cos(turned) - dy * Math.sin(turned), y: area[1] + area[3] / 2 + dx * Math.sin(turned) + dy * Math.cos(turned) };
}

// Which of them can be seen, found out by the browser when that changes.
const inSight = new IntersectionObserver((entries) => {
  for (const entry of entries) entry.target.view.isInSight = entry.intersectionRatio > 0.15;
}, { threshold: [0, 0.15, 0.3] });

class StageView {
  constructor(stage, moment) {
    this.stage = stage;
    this.moment = moment;
    this.canvas = el('canvas', { role: 'img', 'aria-label': `Stage ${stage.name}`, 'data-stage': stage.name });
    this.caption = el('figcaption');
    this.over = button('Over the frame', () => {
      now.stage = now.stage === stage.name ? '' : stage.name;
      changed('view');
    }, { disabled: !stage.area, title: stage.area ? 's: lay it over the frame' : 'This stage does not lie in the frame' });
    this.figure = el('figure', { class: 'stage' }, this.canvas, this.caption, this.over);
    this.pointed = null;
    this.canvas.addEventListener('pointermove', (event) => {
      const box = this.canvas.getBoundingClientRect();
      const [u, v] = [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height];
      if (stage.area) {
        now.cross = placeOf(stage.area, u, v);
        changed('cross');
        drawScreen();
      } else {
        this.pointed = [u, v];
        this.draw();
        this.ask();
      }
    });
    this.canvas.addEventListener('pointerleave', () => {
      this.pointed = null;
      now.cross = null;
      changed('cross');
      drawScreen();
    });
    this.value = '';
    this.asked = 0;
    this.isComing = false;
    this.isInSight = false;
    inSight.observe(this.canvas);
    this.canvas.view = this;
    this.draw();
  }

  place() {
    if (this.pointed) return this.pointed;
    return now.cross && this.stage.area ? within(this.stage.area, now.cross) : null;
  }

  // The exact value, from the program.
  ask() {
    clearTimeout(this.asked);
    const place = this.place();
    if (!place || now.going) {
      this.value = '';
      this.say();
      return;
    }
    const { stage } = this;
    const [row, col] = [Math.floor(place[1] * stage.rows), Math.floor(place[0] * stage.cols)];
    this.asked = setTimeout(() => act({ do: 'value', frame: now.at, lane: now.lane, moment: this.moment, name: stage.name, row, col }).then((answer) => {
      this.value = answer.values.length ? `${answer.values.map(shown).join(', ')} at ${col}, ${row}` : '';
      this.say();
    }).catch(() => {}), 60);
  }

  say() {
    const isOver = String(now.stage === this.stage.name);
    if (this.over.getAttribute('aria-pressed') !== isOver) this.over.setAttribute('aria-pressed', isOver);
    const { stage } = this;
    const said = ` ${stage.cols} × ${stage.rows}, ${shown(stage.low)} to ${shown(stage.high)}${this.value ? `; ${this.value}` : ''}`;
    if (said === this.said) return;
    this.said = said;
    this.caption.replaceChildren(el('b', {}, stage.name), said);
  }

  draw() {
    this.say();
    // One picture at a time is under way: while the tracker goes on, frames between are left out.
    if (this.isComing) return;
    const { at } = now;
    const entry = inner.get(stageAddress(at, this.stage.name, this.moment));
    if (!entry.bitmap) {
      this.isComing = true;
      entry.coming.then((bitmap) => {
        this.isComing = false;
        if (bitmap || now.at !== at) this.draw();
      });
      return;
    }
    const { bitmap } = entry;
    this.canvas.dataset.frame = String(at);
    const place = this.place();
    const drawn = [stageAddress(at, this.stage.name, this.moment), place].join(' ');
    if (this.drawn === drawn) return;
    this.drawn = drawn;
    if (this.canvas.width !== bitmap.width || this.canvas.height !== bitmap.height) {
      this.canvas.width = bitmap.width;
      this.canvas.height = bitmap.height;
    }
    const ctx = this.canvas.getContext('2d');
    ctx.drawImage(bitmap, 0, 0);
    if (!place) return;
    ctx.fillStyle = '#ff8c5ac0';
    const thick = Math.max(1, bitmap.width / 300);
    ctx.fillRect(place[0] * bitmap.width, 0, thick, bitmap.height);
    ctx.fillRect(0, place[1] * bitmap.height, bitmap.width, thick);
  }
}

let views = [];

export function stagesPanel() {
  const title = el('p', { class: 'note' });
  const looked = el('ul', { id: 'candidates' });
  const list = el('div');
  const part = el('div', {}, title, looked, list);
  let shownKey = '';
  let number = 0;
  const fill = async () => {
    if (!now.desk || part.hidden || !part.isConnected) return;
    const isPreview = Boolean(previewStages());
    const row = rowOf(now.lane, now.at);
    if (!isPreview && !row) {
      title.textContent = 'Mark the target and go to a frame that the tracker has followed: its inner pictures are shown here.';
      list.replaceChildren();
      looked.replaceChildren();
      views = [];
      shownKey = '';
      return;
    }
    const moment = isPreview ? 'preview' : momentShown();
    const lane = now.desk.lanes[now.lane];
    const key = [now.at, moment, now.lane, versionOf(now.lane, now.at), now.preview?.number].join(' ');
    if (key === shownKey) {
      for (const view of views) view.draw();
      return;
    }
    if (now.going && views.length) {
      // While the tracker goes on, the pictures change and their list does not.
      shownKey = '';
      const said = `What ${lane.tracker} sees inside while it follows`;
      if (title.textContent !== said) title.textContent = said;
      for (const view of views) if (view.isInSight) view.draw();
      return;
    }
    shownKey = key;
    number += 1;
    const asked = number;
    const answer = await act({ do: 'stages', frame: now.at, lane: now.lane, moment }).catch((error) => ({ failed: error.message }));
    if (asked !== number) return;
    if (answer.failed) {
      title.textContent = answer.failed;
      return;
    }
    title.textContent = isPreview ? `What ${lane.tracker} would learn from this region` : `What ${lane.tracker} saw inside on frame ${now.at}${moment === 'before' ? ', before the last change' : ''}`;
    now.masks = now.desk.lanes.map((_, i) => (i === now.lane ? answer.mask : now.masks?.[i]));
    now.stageAreas = Object.fromEntries(answer.stages.filter((stage) => stage.area).map((stage) => [stage.name, stage.area]));
    now.candidates = isPreview ? null : { at: now.at, lane: now.lane, list: answer.candidates };
    now.stageNames = answer.stages.map((stage) => stage.name);
    looked.replaceChildren(...answer.candidates.map((one) => el('li', {}, `${one.outcome}: sure ${one.confidence.toFixed(2)}`,
      one.quality ? `, like it ${one.quality.toFixed(2)}` : '', ` at ${one.box.slice(0, 2).map(Math.round).join(', ')}`)));
    const isSame = views.length === answer.stages.length && views.every((view, i) => view.stage.name === answer.stages[i].name && view.moment === moment);
    if (isSame)
      views.forEach((view, i) => {
        view.stage = answer.stages[i];
        view.draw();
      });
    else {
      views = answer.stages.map((stage) => new StageView(stage, moment));
      list.replaceChildren(...views.map((view) => view.figure));
    }
    drawScreen();
  };
  onChange(['at', 'desk', 'view', 'draft'], fill);
  onChange(['rows'], () => {
    if (!now.going || !views.length) fill();
  });
  onChange(['cross'], () => {
    if (part.hidden || !part.isConnected) return;
    for (const view of views) {
      view.draw();
      view.ask();
    }
  });
  part.fill = fill;
  return part;
}

// The stages that have to be ready while the trackers go on: those in sight.
export function watchedStages() {
  const seen = views.filter((view) => view.isInSight).map((view) => view.stage.name);
  return now.stage && !seen.includes(now.stage) ? [...seen, now.stage] : seen;
}
