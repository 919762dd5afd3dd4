/** A phrase of a sentence: plain words, words in bold, or the place of something that can be changed. */
export interface Phrase {
  kind: "text" | "bold" | "slot";
  text: string;
}

/** "**Fray** its edges by {reach}" as phrases. */
export function phrases(sentence: string): Phrase[] {
  return sentence
    .split(/(\*\*[^*]+\*\*|\{[a-z_]+\})/)
    .filter((text) => text !== "")
    .map((text): Phrase => {
      if (text.startsWith("**")) return { kind: "bold", text: text.slice(2, -2) };
      if (text.startsWith("{")) return { kind: "slot", text: text.slice(1, -1) };
      return { kind: "text", text };
    });
}
