// Talks to the program: messages, news and pictures.
// A page that is loaded anew stays the same tab; a copy of it in another tab does not.
const isReload = performance.getEntriesByType('navigation')[0]?.type === 'reload';
const tab = (isReload && sessionStorage.getItem('tab')) || crypto.randomUUID();
sessionStorage.setItem('tab', tab);

// What is done, as docs/desk.md has it. \throws Error with the program's words.
export async function act(message) {
  const answer = await fetch('/act', { method: 'POST', headers: { 'Content-Type': 'application/json', 'X-Mnemon-Tab': tab }, body: JSON.stringify(message) });
  const said = await answer.json().catch(() => ({ error: `status ${answer.status}` }));
  if (!answer.ok) throw new Error(said.error);
  return said;
}

// Calls `told` with every piece of news, and `cut` with 'taken', 'held' or 'gone' where no more come.
export async function listen(told, cut, take = false) {
  const address = `/events?tab=${tab}${take ? '&take=1' : ''}`;
  const first = await fetch(address, { method: 'GET', headers: { Accept: 'text/event-stream' } }).catch(() => null);
  if (!first) return cut('gone');
  if (first.status === 409) return cut('held');
  if (!first.ok || !first.body) return cut('gone');
  const reader = first.body.pipeThrough(new TextDecoderStream()).getReader();
  let text = '';
  for (;;) {
    const { value, done } = await reader.read().catch(() => ({ done: true }));
    if (done) return cut('gone');
    text += value;
    for (let end = text.indexOf('\n\n'); end >= 0; end = text.indexOf('\n\n')) {
      const message = text.slice(0, end);
      text = text.slice(end + 2);
      if (message.startsWith('event: taken')) return cut('taken');
      if (message.startsWith('data: ')) told(JSON.parse(message.slice(6)));
    }
  }
}

const AGAIN = 1000; // ms after which a picture that did not come is asked for again

async function answerTo(address) {
  const answer = await fetch(address);
  if (!answer.ok) throw new Error((await answer.json().catch(() => ({}))).error ?? `status ${answer.status}`);
  return answer;
}

function partOf(bytes, index) {
  const view = new DataView(bytes);
  let at = 0;
  for (let i = 0; i < index; i += 1) at += 4 + view.getUint32(at);
  return new Blob([new Uint8Array(bytes, at + 4, view.getUint32(at))], { type: 'image/png' });
}

// Pictures that have come, those asked for last in front. A picture that is under way is asked for once.
class Pictures {
  constructor(most) {
    this.most = most;
    this.known = new Map();
  }

  has(address) {
    return this.known.has(address);
  }

  get(address) {
    const entry = this.known.get(address);
    if (entry && !(entry.failed && performance.now() > entry.again)) {
      this.known.delete(address);
      this.known.set(address, entry);
      return entry;
    }
    return this.take(address, answerTo(address).then((answer) => answer.blob()));
  }

  // Several that come as one answer, each behind the number of its bytes: an answer costs the browser more than a small picture.
  fetchTogether(address, addresses) {
    if (addresses.every((one) => this.has(one))) return;
    const whole = answerTo(address).then((answer) => answer.arrayBuffer());
    addresses.forEach((one, i) => this.take(one, whole.then((bytes) => partOf(bytes, i))));
  }

  take(address, coming) {
    const entry = { bitmap: null, failed: '', again: 0 };
    entry.coming = coming.then(async (blob) => {
      entry.bitmap = await createImageBitmap(blob);
      return entry.bitmap;
    }).catch((error) => {
      entry.failed = error.message;
      entry.again = performance.now() + AGAIN;
      return null;
    });
    this.known.set(address, entry);
    while (this.known.size > this.most) {
      const [oldest, old] = this.known.entries().next().value;
      old.coming.then((bitmap) => bitmap?.close());
      this.known.delete(oldest);
    }
    return entry;
  }
}

export const frames = new Pictures(48);
export const smalls = new Pictures(600);
export const inner = new Pictures(160);
