const KEY = "sources-used-lately";
const MOST = 6;

/** What lines were made to read lately, newest first; of this browser, not of a project. */
export function lately(): string[] {
  try {
    const held: unknown = JSON.parse(localStorage.getItem(KEY) ?? "[]");
    return Array.isArray(held) ? held.filter((item) => typeof item === "string").slice(0, MOST) : [];
  } catch {
    return [];
  }
}

export function used(value: string): void {
  if (value === "none") return;
  const kept = [value, ...lately().filter((item) => item !== value)].slice(0, MOST);
  localStorage.setItem(KEY, JSON.stringify(kept));
}
