// Puts the page together: the answer, the questions, the losses, the viewer, and all tables.
import { ranked, report, sequences, trackers } from 'mnemon/data';
import { change, isOn, isShown, onChange, state } from 'mnemon/state';
import { button, el, swatch, trackerName } from 'mnemon/parts';
import { refreshTables, table } from 'mnemon/tables';
import { chart } from 'mnemon/charts';
import { show, viewer } from 'mnemon/viewer';
import { lossList, worstMoments } from 'mnemon/losses';

const page = document.getElementById('page');
const isFloor = (row) => trackers.get(row.tracker)?.floor ?? false;
const isRowShown = (row) => row.tracker < 0 || !trackers.has(row.tracker) || isShown(row.tracker);
const sequenceNames = new Map([...sequences.values()].map((one) => [one.name, one.id]));

function section(id, title, ...children) {
  return el('section', { id }, el('h2', {}, title), ...children);
}

function toggle(set, value, isIn) {
  const next = new Set(set);
  if (isIn) next.add(value);
  else next.delete(value);
  return next;
}

// One set of trackers and sequences for the whole page.
function chosenPart() {
  const box = (text, checked, onchange, mark) =>
    el('label', { class: 'choice' }, el('input', { type: 'checkbox', checked, onchange: (event) => onchange(event.target.checked) }), mark ?? '', text);
  const trackerBoxes = el('div', { class: 'choices' });
  const sequenceBoxes = el('div', { class: 'choices' });
  const summary = el('summary');
  const fill = () => {
    summary.textContent = `Shown: ${state.trackers.size} of ${ranked.length} trackers, ${state.sequences.size} of ${sequences.size} sequences`;
    trackerBoxes.replaceChildren(
      button('all', () => change('chosen', { trackers: new Set(ranked.map((tracker) => tracker.id)) })),
      button('best three', () => change('chosen', { trackers: new Set(ranked.filter((tracker) => !tracker.floor).slice(0, 3).map((tracker) => tracker.id)) })),
      ...ranked.map((tracker) => box(tracker.label, isShown(tracker.id), (isIn) => change('chosen', { trackers: toggle(state.trackers, tracker.id, isIn) }), swatch(tracker))));
    sequenceBoxes.replaceChildren(
      button('all', () => change('chosen', { sequences: new Set(sequences.keys()) })),
      button('none', () => change('chosen', { sequences: new Set() })),
      ...[...sequences.values()].map((one) => box(one.name, isOn(one.id), (isIn) => change('chosen', { sequences: toggle(state.sequences, one.id, isIn) }))));
  };
  onChange(['chosen'], fill);
  fill();
  return el('details', {}, summary, el('h3', {}, 'Trackers'), trackerBoxes, el('h3', {}, 'Sequences'), sequenceBoxes,
    el('p', { class: 'note' }, 'Trackers count for every chart, table and list; sequences for lists, the viewer and tables of single sequences. Means are always over all sequences.'));
}

function pairMatrix() {
  const shown = ranked.filter((tracker) => isShown(tracker.id));
  const find = (a, b) => report.pairs.find((pair) => (pair.better === a && pair.worse === b) || (pair.better === b && pair.worse === a));
  const cell = (row, column) => {
    if (row === column) return el('td', { class: 'self' });
    const pair = find(row.id, column.id);
    if (!pair) return el('td', {}, '–');
    const sign = pair.better === row.id ? '+' : '−';
    return el('td', { class: pair.separated ? (pair.better === row.id ? 'better' : 'worse') : 'same', title: pair.text }, `${sign}${pair.difference.replace('-', '')}`);
  };
  return el('div', { class: 'wide', tabIndex: 0 }, el('table', { class: 'matrix' },
    el('thead', {}, el('tr', {}, el('th', {}, 'row less column'), ...shown.map((tracker) => el('th', { scope: 'col' }, tracker.label)))),
    el('tbody', {}, ...shown.map((row) => el('tr', {}, el('th', { scope: 'row', class: 'name' }, trackerName(row.id)), ...shown.map((column) => cell(row, column)))))));
}

function answerPart() {
  const parts = [];
  if (report.missing_runs) parts.push(el('p', { class: 'warning' }, `${report.missing_runs} planned runs are not in this study yet: run the plan again to make them.`));
  if (report.answer) parts.push(el('p', { class: 'answer' }, report.answer));
  const speed = report.figures.find((group) => group.figures.some((figure) => figure.name === 'accuracy-speed'));
  if (speed) parts.push(...speed.figures.map((figure) => chart(figure, true)));
  if (report.merit) {
    parts.push(table(report.merit, { show: isRowShown, apart: isFloor }));
    const protocol = report.protocols[0];
    parts.push(el('p', { class: 'note' }, `Under ${protocol.name}: ${protocol.summary} Every sequence has the same weight; a number in brackets says over how many of them a figure is known. ` +
      'Trackers that share a letter in group are not separated: the 95 % interval of their mean difference, which holds for all pairs at once, spans 0, or the difference is below 0.01. ' +
      'What stands apart at the end is a floor: it shows what sequences give for nothing.'));
  }
  if (report.pairs.length) {
    const matrix = el('div', {}, pairMatrix());
    onChange(['chosen'], () => matrix.replaceChildren(pairMatrix()));
    parts.push(el('details', { id: 'pairs' }, el('summary', {}, 'Every pair: is the lead real?'),
      el('p', { class: 'note' }, 'Mean difference in success area; filled where the pair is separated. Hover for its interval.'), matrix));
  }
  // A study of generated sequences alone has no main table: its answers stand under its own question.
  return parts.length ? section('answer', 'Which to take', ...parts) : null;
}

function questionId(question) {
  return question.toLowerCase().replace(/[^a-z]+/g, '-').replace(/^-|-$/g, '');
}

function questionParts() {
  return report.figures.filter((group) => !group.figures.some((figure) => figure.name === 'accuracy-speed')).map((group) => {
    const isTags = group.figures[0].name === 'tags';
    const stress = group.figures[0].name.startsWith('stress-') ? report.stress.map((one) => el('div', {}, el('h3', {}, `${one.scene} under growing ${one.knob}`), table(one.table, { show: isRowShown }))) : [];
    return section(questionId(group.question), group.question,
      el('div', { class: group.figures.length > 1 ? 'pair' : 'single' }, ...group.figures.map((figure) => chart(figure, isTags))),
      isTags && report.tags ? tagTable() : null, ...stress);
  });
}

// A column a tracker: those that are not shown are left out.
function tagTable() {
  const byLabel = new Map(ranked.map((tracker) => [tracker.label, tracker.id]));
  const holder = el('div');
  const fill = () => {
    const kept = report.tags.columns.map((column, i) => i).filter((i) => isShown(byLabel.get(report.tags.columns[i].heading)));
    holder.replaceChildren(table({ ...report.tags, columns: kept.map((i) => report.tags.columns[i]), rows: report.tags.rows.map((row) => ({ ...row, cells: kept.map((i) => row.cells[i]) })) }));
  };
  onChange(['chosen'], fill);
  fill();
  return holder;
}

function protocolParts() {
  const rows = (protocol) => table(protocol.runs, {
    show: (row) => isRowShown(row) && isOn(sequenceNames.get(row.over.replace('‡', '')) ?? -1),
    onRow: (line, row) => {
      const sequence = sequenceNames.get(row.over.replace('‡', ''));
      if (sequence === undefined) return;
      const open = () => show(sequence, 0, row.tracker);
      line.classList.add('link');
      line.addEventListener('click', open);
      const name = el('button', { type: 'button', class: 'frame', title: 'Show it', onclick: (event) => { event.stopPropagation(); open(); } }, row.over);
      line.cells[1].replaceChildren(name);
    },
  });
  return report.protocols.map((protocol, i) => section(`under-${protocol.name}`, `Under ${protocol.name}`,
    el('p', {}, protocol.summary, ' ', el('span', { class: 'note' }, protocol.params)),
    i ? table(protocol.over, { show: isRowShown, apart: isFloor }) : null,
    el('details', {}, el('summary', {}, 'Sequence by sequence'), rows(protocol))));
}

function sweepParts() {
  return report.sweeps.map((sweep) => section(`sweep-${questionId(sweep.label)}`, `What ${sweep.label} is sensitive to`,
    el('p', {}, `${sweep.choice}.`),
    el('p', { class: 'note' }, `The most that the means differ by from value to value: ${sweep.sensitivity}. A mean is over all variations with that value, on the sequences that choose.`),
    table(sweep.effects)));
}

function definitionPart() {
  const known = new Map();
  for (const columns of [report.merit?.columns ?? [], ...report.protocols.map((protocol) => protocol.over.columns)])
    for (const column of columns) known.set(column.heading, column.help);
  return section('figures', 'What the figures are', el('dl', {}, ...[...known].flatMap(([heading, help]) => [el('dt', {}, heading), el('dd', {}, help)]),
    el('dt', {}, '–'), el('dd', {}, 'There was nothing to work the figure out from.')));
}

function runPart() {
  return section('runs', 'What was run',
    el('ul', {}, ...report.trackers.map((tracker) => el('li', {}, trackerName(tracker.id), ' ', el('span', { class: 'note' }, tracker.params ? `${tracker.name}: ${tracker.params}` : tracker.name)))),
    el('p', { class: 'note' }, report.builds.map((build) => `${build}. `).join(''), 'Timed runs were made one at a time on one core, after a warm-up; reading the frames is outside the times.'),
    report.pictures_beside ? el('p', { class: 'note' }, 'The pictures of this study are large: they lie in the folder pictures beside this page, and have to be taken along with it.') : null);
}

const look = viewer();
const parts = [answerPart(), ...questionParts()].filter(Boolean);
if (report.runs.length) parts.push(worstMoments(), lossList(), look);
parts.push(...protocolParts(), ...sweepParts(), definitionPart(), runPart());
page.append(...parts);
document.getElementById('chosen').append(chosenPart());
document.getElementById('questions').append(...parts.filter((part) => part.id && !['figures', 'runs'].includes(part.id) && !part.id.startsWith('under-'))
  .map((part) => el('a', { href: `#${part.id}`, onclick: (event) => { event.preventDefault(); part.scrollIntoView(); } }, part.querySelector('h2').textContent)));
onChange(['chosen'], () => refreshTables(page));

// Charts draw when they first come into view: a page of many charts opens at once.
const seen = new IntersectionObserver((entries) => {
  for (const entry of entries)
    if (entry.isIntersecting) {
      entry.target.draw();
      seen.unobserve(entry.target);
    }
}, { rootMargin: '600px' });
for (const one of document.querySelectorAll('figure.figure')) seen.observe(one);
if (report.runs.length) look.draw();
if (new URLSearchParams(location.hash.slice(1)).has('view') && report.runs.length) look.scrollIntoView();
document.body.dataset.ready = 'yes';
addEventListener('beforeprint', () => document.querySelectorAll('figure.figure').forEach((one) => one.draw()));
