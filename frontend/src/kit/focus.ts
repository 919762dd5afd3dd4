/** Focus what a selector finds as soon as it is there: what was just opened has its fields a few frames later. */
export function focusWhenThere(selector: string, frames = 60): void {
  const field = document.querySelector<HTMLElement>(selector);
  if (field) field.focus();
  else if (frames > 0) requestAnimationFrame(() => focusWhenThere(selector, frames - 1));
}
