import type { Span } from './model.ts';

/** A stretch of time with ends that are numbers, ±∞ where it is open; its start belongs to it, its end does not. */
export interface Stretch {
  readonly from: number;
  readonly until: number;
}

/** Stretches in order, of which none is empty and none touches the next. */
export type Stretches = readonly Stretch[];

export const NEVER: Stretches = [];
export const ALWAYS: Stretches = [{ from: -Infinity, until: Infinity }];

export function stretchOf({ from, until }: Span): Stretch {
  return { from: from ?? -Infinity, until: until ?? Infinity };
}

/** A span as stretches: one, or none where it is empty. */
export function stretchesOf(span: Span): Stretches {
  if (span.from === null && span.until === null) return ALWAYS;
  return union([stretchOf(span)]);
}

/** What two stretches have in common; null for nothing. */
export function overlap(a: Stretch, b: Stretch): Stretch | null {
  const from = Math.max(a.from, b.from);
  const until = Math.min(a.until, b.until);
  return from < until ? { from, until } : null;
}

/** All instants that lie in any of the stretches, which may be empty, overlap and stand in any order. */
export function union(all: readonly Stretch[]): Stretches {
  if (all.length < 2) return all.filter((s) => s.from < s.until);
  const merged: { from: number; until: number }[] = [];
  for (const { from, until } of [...all].sort((a, b) => a.from - b.from)) {
    if (from >= until) continue;
    const last = merged.at(-1);
    if (last && from <= last.until) last.until = Math.max(last.until, until);
    else merged.push({ from, until });
  }
  return merged;
}

export function intersection(a: Stretches, b: Stretches): Stretches {
  if (a === ALWAYS || b.length === 0) return b;
  if (b === ALWAYS || a.length === 0) return a;
  return union(a.flatMap((x) => b.flatMap((y) => overlap(x, y) ?? [])));
}

/** The instants of `a` that are not in `b`. */
export function without(a: Stretches, b: Stretches): Stretches {
  let left = a;
  for (const { from, until } of b)
    left = left.flatMap((s) =>
      [
        { from: s.from, until: Math.min(s.until, from) },
        { from: Math.max(s.from, until), until: s.until },
      ].filter((part) => part.from < part.until),
    );
  return left;
}

export function sameStretches(a: Stretches, b: Stretches): boolean {
  return (
    a === b ||
    (a.length === b.length &&
      a.every(({ from, until }, n) => from === b[n]!.from && until === b[n]!.until))
  );
}
