// Elements of a page. Text is only ever set as text.
export function el(name, attributes = {}, ...children) {
  const made = document.createElement(name);
  for (const [key, value] of Object.entries(attributes)) {
    if (value === null || value === undefined || value === false) continue;
    if (key.startsWith('on')) made.addEventListener(key.slice(2), value);
    else if (key === 'class') made.className = value;
    else if (key === 'style') Object.assign(made.style, value);
    else if (key in made && key !== 'list') made[key] = value;
    else made.setAttribute(key, value === true ? '' : value);
  }
  made.append(...children.filter((child) => child !== null && child !== undefined));
  return made;
}

export function button(text, onclick, more = {}) {
  return el('button', { type: 'button', onclick, ...more }, text);
}

export function select(label, values, chosen, onchange) {
  const box = el('select', { onchange: () => onchange(box.value) },
    ...values.map(([value, text]) => el('option', { value, selected: value === chosen }, text)));
  return el('label', {}, `${label} `, box);
}

export const fixed = (value, decimals) => (value === null || value === undefined ? '–' : value.toFixed(decimals));
