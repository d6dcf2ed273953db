// A part of the page is never filled anew under somebody's hands.

// A `fill` that waits while a field of the part is being typed in, or a button or slider of it is held, until that has ended.
export function whenFree(part, fill) {
  let typedIn = null;
  let isWaiting = false;
  const attempt = () => {
    isWaiting = Boolean(typedIn) || part.matches(':active');
    if (!isWaiting) fill();
  };
  // What has been let go is answered first.
  const later = () => setTimeout(() => isWaiting && attempt());
  part.addEventListener('input', (event) => { typedIn = event.target; });
  for (const end of ['change', 'focusout']) part.addEventListener(end, () => {
    typedIn = null;
    later();
  });
  for (const end of ['pointerup', 'pointercancel']) document.addEventListener(end, later);
  return attempt;
}
