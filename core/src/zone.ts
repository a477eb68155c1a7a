import { TZDate } from '@date-fns/tz';
import type { Instant } from './model.ts';

/** A calendar day, `2026-11-25`. */
export type Day = string;

/** A day and a time of the clock on the wall, `2026-11-25T08:00`. */
export type WallTime = string;

/**
 * The instant at which a clock in `zone` shows this time. In the hour that the clock shows twice in autumn the first
 * one is meant; a time that it leaps over in spring is the same distance after the leap. Throws RangeError for
 * anything that is no day and time, and for an unknown zone.
 */
export function instantAt(wall: WallTime, zone: string): Instant {
  const parts = /^(\d{4})-(\d\d)-(\d\d)T(\d\d):(\d\d)$/u.exec(wall)?.slice(1).map(Number);
  if (!parts) throw new RangeError(`no day and time: ${wall}`);
  const [year, month, day, hour, minute] = parts as [number, number, number, number, number];
  const found = new TZDate(year, month - 1, day, hour, minute, zone).getTime();
  const asked = new Date(Date.UTC(year, month - 1, day, hour, minute));
  if (Number.isNaN(found) || !asked.toISOString().startsWith(wall))
    throw new RangeError(`no day and time: ${wall}`);
  // Of two instants that look alike on the wall, the earlier.
  for (const back of [60, 30]) {
    const earlier = found - back * 60_000;
    if (wallTime(earlier, zone) === wall) return earlier;
  }
  return found;
}

/** The instant at which a day begins in `zone`. Throws as `instantAt` does. */
export function startOfDay(day: Day, zone: string): Instant {
  return instantAt(`${day}T00:00`, zone);
}

/** The day on the calendar in `zone`. */
export function dayAt(t: Instant, zone: string): Day {
  return wallTime(t, zone).slice(0, 10);
}

/** What calendar and clock show in `zone`. */
export function wallTime(t: Instant, zone: string): WallTime {
  const there = new TZDate(t, zone);
  const two = (n: number) => String(n).padStart(2, '0');
  const date = `${String(there.getFullYear()).padStart(4, '0')}-${two(there.getMonth() + 1)}-${two(there.getDate())}`;
  return `${date}T${two(there.getHours())}:${two(there.getMinutes())}`;
}

/** The day `days` after another one (before it, where negative). */
export function dayAfter(day: Day, days: number): Day {
  return new Date(Date.parse(`${day}T00:00:00Z`) + days * 86_400_000).toISOString().slice(0, 10);
}
