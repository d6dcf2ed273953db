// Draws the figures of the data object with Chart.js.
import { ranked, trackers } from 'mnemon/data';
import { isShown, onChange } from 'mnemon/state';
import { el } from 'mnemon/parts';

const MOST_WITH_BANDS = 4;
const MARKS = ['circle', 'rect', 'triangle', 'rectRot', 'star', 'crossRot', 'cross'];

// Shades stretches of the x axis, beneath the lines, and intervals around lines where there are few.
const beneath = {
  id: 'beneath',
  beforeDatasetsDraw(chart, args, options) {
    const { ctx, chartArea, scales } = chart;
    ctx.save();
    ctx.beginPath();
    ctx.rect(chartArea.left, chartArea.top, chartArea.right - chartArea.left, chartArea.bottom - chartArea.top);
    ctx.clip();
    ctx.fillStyle = '#e9e3d6';
    for (const [from, to] of options.shaded || []) {
      const left = scales.x.getPixelForValue(from);
      ctx.fillRect(left, chartArea.top, scales.x.getPixelForValue(to) - left, chartArea.bottom - chartArea.top);
    }
    for (const set of chart.data.datasets) if (set.band) band(ctx, scales, set);
    ctx.restore();
  },
  // Ends of intervals, and the line that joins the front.
  afterDatasetsDraw(chart, args, options) {
    const { ctx, scales } = chart;
    ctx.save();
    for (const set of chart.data.datasets) if (set.ends) whiskers(ctx, scales, set);
    if (options.front && options.front.length > 1) {
      ctx.strokeStyle = '#6b6459';
      ctx.setLineDash([4, 4]);
      ctx.beginPath();
      options.front.forEach(([x, y], i) => ctx[i ? 'lineTo' : 'moveTo'](scales.x.getPixelForValue(x), scales.y.getPixelForValue(y)));
      ctx.stroke();
    }
    ctx.setLineDash([]);
    if (options.named) names(ctx, chart);
    ctx.restore();
  },
};

function band(ctx, scales, set) {
  const known = set.data.map((point, i) => ({ x: point.x, low: set.low[i], high: set.high[i] })).filter((p) => p.low !== null && p.high !== null);
  if (known.length < 2) return;
  ctx.globalAlpha = 0.18;
  ctx.fillStyle = set.borderColor;
  ctx.beginPath();
  known.forEach((p, i) => ctx[i ? 'lineTo' : 'moveTo'](scales.x.getPixelForValue(p.x), scales.y.getPixelForValue(p.high)));
  known.reverse().forEach((p) => ctx.lineTo(scales.x.getPixelForValue(p.x), scales.y.getPixelForValue(p.low)));
  ctx.fill();
  ctx.globalAlpha = 1;
}

function whiskers(ctx, scales, set) {
  ctx.strokeStyle = set.borderColor;
  ctx.lineWidth = 1.5;
  set.data.forEach((point, i) => {
    if (set.low[i] === null || set.high[i] === null || point.y === null) return;
    const x = scales.x.getPixelForValue(point.x);
    const low = scales.y.getPixelForValue(set.low[i]);
    const high = scales.y.getPixelForValue(set.high[i]);
    ctx.beginPath();
    for (const y of [low, high]) {
      ctx.moveTo(x - 3, y);
      ctx.lineTo(x + 3, y);
    }
    ctx.moveTo(x, low);
    ctx.lineTo(x, high);
    ctx.stroke();
  });
}

function axis(title, more) {
  return Object.assign({ title: { display: title !== '', text: title }, grid: { color: '#ece7dd' } }, more);
}

// The legend's own labels, each with the dashes of its line.
function dashedLabels(chart) {
  const labels = Chart.defaults.plugins.legend.labels.generateLabels(chart);
  return labels.map((label) => Object.assign(label, { lineDash: chart.data.datasets[label.datasetIndex].borderDash }));
}

// Where categories are trackers, only those that are shown stay: old place to new place.
function keptCategories(figure) {
  const byLabel = new Map(ranked.map((tracker) => [tracker.label, tracker.id]));
  const areTrackers = figure.categories.length > 0 && figure.categories.every((name) => byLabel.has(name));
  const kept = new Map();
  figure.categories.forEach((name, place) => {
    if (!areTrackers || isShown(byLabel.get(name))) kept.set(place, kept.size);
  });
  return kept;
}

function datasets(figure) {
  const kept = keptCategories(figure);
  const hasCategories = figure.categories.length > 0;
  const shown = figure.series.filter((series) => series.tracker < 0 || !trackers.has(series.tracker) || isShown(series.tracker));
  const beside = (i) => (figure.kind === 'points' && shown.length > 1 ? 0.7 * (i / (shown.length - 1) - 0.5) : 0);
  return shown.map((series, i) => {
    const places = series.x.map((x, k) => k).filter((k) => !hasCategories || kept.has(series.x[k]));
    const spread = hasCategories && series.x.length > 1 ? beside(i) : 0;
    const at = (k) => (hasCategories ? kept.get(series.x[k]) + (figure.kind === 'bars' ? 0 : spread) : series.x[k]);
    const pick = (values) => (values.length ? places.map((k) => values[k]) : places.map(() => null));
    const hasEnds = series.low.some((value) => value !== null);
    return {
      label: series.label,
      tracker: series.tracker,
      data: places.map((k) => ({ x: at(k), y: series.y[k] })),
      low: pick(series.low),
      high: pick(series.high),
      ends: figure.kind === 'points' && hasEnds,
      band: figure.kind === 'lines' && hasEnds && shown.length <= MOST_WITH_BANDS,
      borderColor: series.colour,
      backgroundColor: series.colour,
      borderWidth: figure.kind === 'bars' ? 0 : 2,
      borderDash: series.dashed && figure.kind === 'lines' ? [7, 4] : [],
      pointStyle: markOf(series.tracker >= 0 ? series.tracker : i),
      pointRadius: figure.kind === 'points' ? 5 : 0,
      pointHitRadius: 6,
      showLine: figure.kind === 'lines',
      barPercentage: 0.8,
      categoryPercentage: 0.9,
    };
  });
}

// Seven marks do for seven trackers: the eighth has the first one's colour, and so another mark.
const markOf = (place) => MARKS[(place + 3 * Math.floor(place / MARKS.length)) % MARKS.length];

// From where to where a y axis has to go for all intervals to be on it.
function yRoom(figure) {
  const ends = figure.series.flatMap((series) => [...series.y, ...series.low, ...series.high]).filter((value) => value !== null);
  if (figure.kind !== 'points' || !ends.length) return { beginAtZero: true };
  return { suggestedMin: Math.min(...ends), suggestedMax: Math.max(...ends) };
}

// Names beside marks, where there are few enough to read.
function names(ctx, chart) {
  ctx.font = '12px "DejaVu Sans", Verdana, sans-serif';
  ctx.fillStyle = '#26221c';
  const taken = [];
  for (const set of chart.data.datasets) {
    const at = { x: chart.scales.x.getPixelForValue(set.data[0].x), y: chart.scales.y.getPixelForValue(set.data[0].y) };
    const width = ctx.measureText(set.label).width;
    const isRight = at.x + width + 12 < chart.chartArea.right;
    const box = { left: isRight ? at.x + 9 : at.x - 9 - width, top: at.y - 16 };
    while (taken.some((other) => Math.abs(other.top - box.top) < 13 && other.left < box.left + width && box.left < other.right)) box.top += 13;
    taken.push({ ...box, right: box.left + width });
    ctx.fillText(set.label, box.left, box.top + 12);
  }
}

function xAxis(figure) {
  if (figure.categories.length) {
    const kept = keptCategories(figure);
    const names = [...kept.keys()].map((place) => figure.categories[place]);
    return axis(figure.x, {
      type: 'linear', min: -0.6, max: names.length - 0.4, grid: { display: false },
      afterBuildTicks: (scale) => { scale.ticks = names.map((name, value) => ({ value })); },
      ticks: { callback: (value) => names[value] ?? '', autoSkip: false, maxRotation: 60 },
    });
  }
  const xs = figure.series.flatMap((series) => series.x);
  if (!xs.length) return axis(figure.x, { type: 'linear' });
  const room = figure.kind === 'points' && figure.log_x ? 1.25 : 1;
  return axis(figure.x, { type: figure.log_x ? 'logarithmic' : 'linear', min: Math.min(...xs) / room, max: Math.max(...xs) * room });
}

function frontOf(figure) {
  const points = figure.front.map((place) => figure.series[place]).filter((series) => isShown(series.tracker));
  return points.map((series) => [series.x[0], series.y[0]]);
}

const decimals = (value) => (value === null ? '–' : Math.abs(value) >= 100 ? value.toFixed(0) : value.toFixed(3));

function tip(figure, item) {
  const set = item.dataset;
  const ends = set.low[item.dataIndex] !== null && set.low[item.dataIndex] !== undefined
    ? ` (${decimals(set.low[item.dataIndex])} to ${decimals(set.high[item.dataIndex])})` : '';
  const at = figure.categories.length ? '' : ` at ${decimals(item.raw.x)}`;
  return `${set.label}: ${decimals(item.raw.y)}${ends}${at}`;
}

function draw(canvas, figure) {
  const isCategory = figure.categories.length > 0;
  return new Chart(canvas, {
    type: figure.kind === 'bars' ? 'bar' : figure.kind === 'points' ? 'scatter' : 'line',
    data: { datasets: datasets(figure) },
    plugins: [beneath],
    options: {
      animation: false,
      parsing: false,
      normalized: true,
      maintainAspectRatio: false,
      interaction: figure.kind === 'lines' ? { mode: 'nearest', axis: 'x', intersect: false } : { mode: 'nearest', intersect: true },
      scales: {
        x: Object.assign(xAxis(figure), { stacked: figure.kind === 'bars' }),
        y: axis(figure.y, Object.assign({ stacked: figure.kind === 'bars' },
          figure.unit_y ? { min: 0, max: 1 } : yRoom(figure))),
      },
      plugins: {
        beneath: { shaded: figure.shaded, front: frontOf(figure), named: figure.kind === 'points' && !isCategory },
        title: { display: true, text: figure.title, align: 'start' },
        tooltip: { callbacks: { title: (items) => (isCategory ? '' : undefined), label: (item) => tip(figure, item) } },
        legend: {
          display: isCategory || figure.kind !== 'points',
          position: 'bottom', align: 'start',
          labels: { usePointStyle: true, pointStyle: figure.kind === 'lines' ? 'line' : undefined, boxWidth: 26, generateLabels: dashedLabels },
        },
      },
    },
  });
}

// A figure with its chart, drawn anew whenever other trackers are shown.
export function chart(figure, isTall = false) {
  const canvas = el('canvas', { role: 'img', 'aria-label': figure.title });
  canvas.dataset.chart = figure.name;
  const made = el('figure', { class: 'figure' }, el('div', { class: isTall ? 'chart tall' : 'chart' }, canvas),
    figure.note ? el('figcaption', { class: 'note' }, figure.note) : null);
  let drawn = null;
  // Off the page there is no size to draw at.
  made.draw = () => {
    if (drawn) drawn.destroy();
    drawn = draw(canvas, figure);
  };
  onChange(['chosen'], () => drawn && made.draw());
  return made;
}

Chart.defaults.font.family = '"DejaVu Sans", Verdana, sans-serif';
Chart.defaults.color = '#4b453c';
