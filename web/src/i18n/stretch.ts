import english from "./en.json";

const accents: Record<string, string> = { a: "áà", e: "éè", i: "íì", o: "óò", u: "úù" };
const double = (v: string) => accents[v] ?? accents[v.toLowerCase()].toUpperCase();
const stretch = (text: string) =>
  text.replace(/(\{\{[^{}]*\}\}|\$t\([^)]*\)|<[^>]*>)|[aeiou]/gi, (v, kept) => kept ?? double(v));

type Texts = { [key: string]: string | Texts };
const all = (texts: Texts): Texts =>
  Object.fromEntries(Object.entries(texts).map(([k, v]) => [k, typeof v === "string" ? stretch(v) : all(v)]));

/** English with accents and a third longer, by the server's own rule (core/words). */
export default all(english);
