// Tables that can be sorted by any column.
import { trackers } from 'mnemon/data';
import { el, swatch } from 'mnemon/parts';

const numberIn = (text) => {
  const number = parseFloat(text);
  return Number.isNaN(number) ? null : number;
};

// By numbers where both are, otherwise by text; what is not known comes last either way.
function compare(a, b, down) {
  const left = numberIn(a);
  const right = numberIn(b);
  if (left === null || right === null) {
    if (left === right) return down ? b.localeCompare(a) : a.localeCompare(b);
    return left === null ? 1 : -1;
  }
  return down ? right - left : left - right;
}

function cell(text) {
  return el('td', {}, text === '-' ? '–' : text);
}

function rowElement(row, columns, hasSecond, onRow) {
  const tracker = trackers.get(row.tracker);
  const name = el('td', { class: 'name' });
  if (tracker) name.append(swatch(tracker));
  name.append(row.name);
  const line = el('tr', {}, name);
  if (hasSecond) line.append(el('td', { class: 'name soft' }, row.over));
  if (row.cells.length) line.append(...row.cells.map(cell));
  if (row.note) line.append(el('td', { class: 'failure', colSpan: row.cells.length ? 1 : columns.length }, `failed: ${row.note}`));
  if (onRow) onRow(line, row);
  return line;
}

// \param options  `show(row)`: whether it is shown; `apart(row)`: whether it stands below the others, whatever the order.
export function table(data, options = {}) {
  const hasSecond = data.rows.some((row) => row.over);
  const body = el('tbody');
  let sortedBy = null;
  let down = false;
  const value = (row, place) => (place === 0 ? row.name : place === 1 ? row.over : row.cells[place - 2] ?? '-');
  const fill = () => {
    let rows = data.rows.filter((row) => !options.show || options.show(row));
    if (sortedBy !== null) rows = rows.slice().sort((a, b) => compare(value(a, sortedBy), value(b, sortedBy), down));
    if (options.apart) rows = [...rows.filter((row) => !options.apart(row)), ...rows.filter(options.apart)];
    body.replaceChildren(...rows.map((row) => rowElement(row, data.columns, hasSecond, options.onRow)));
    if (options.apart) {
      const first = rows.findIndex(options.apart);
      if (first > 0) body.children[first].classList.add('apart');
    }
  };
  const heads = [];
  const sort = (place) => {
    down = sortedBy === place ? !down : place > 1;
    sortedBy = place;
    heads.forEach((head) => head.th.setAttribute('aria-sort', head.place === place ? (down ? 'descending' : 'ascending') : 'none'));
    fill();
  };
  const head = (text, help, place, isName) => {
    const th = el('th', { class: isName ? 'name' : '', scope: 'col', title: help || null },
      el('button', { type: 'button', class: 'sort', onclick: () => sort(place), title: help ? `${help} Click to sort.` : 'Click to sort.' }, text));
    heads.push({ th, place });
    return th;
  };
  const row = el('tr', {}, head(data.first, '', 0, true));
  if (hasSecond) row.append(head(data.second, '', 1, true));
  row.append(...data.columns.map((column, i) => head(column.heading, column.help, i + 2, false)));
  fill();
  const made = el('div', { class: 'wide', tabIndex: 0 }, el('table', {}, el('thead', {}, row), body));
  made.refresh = fill;
  return el('div', { class: 'table' }, made, data.footnote ? el('p', { class: 'note' }, data.footnote) : null);
}

// Fills all tables of a part of the page again.
export function refreshTables(part) {
  for (const wide of part.querySelectorAll('.wide')) if (wide.refresh) wide.refresh();
}
