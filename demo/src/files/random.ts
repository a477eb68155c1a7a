/** A stream of numbers from 0 to 1 that is the same for the same name (mulberry32). */
export function random(name: string): () => number {
  let state = 2166136261;
  for (const sign of name) state = Math.imul(state ^ sign.charCodeAt(0), 16777619);
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}
