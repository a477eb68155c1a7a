import type { Id, Instant, Release, ReleaseRule, Span } from './model.ts';

/** A release with no hold and no dates. */
export const OUT: Release = { held: false, from: null, until: null };

/** Whether instant `t` lies in the span: its start belongs to it, its end does not. */
export function within(span: Span, t: Instant): boolean {
  return (span.from === null || span.from <= t) && (span.until === null || t < span.until);
}

/** The release as it reads for one class, or the general one when `classId` is null or has none of its own. */
export function releaseFor(rule: ReleaseRule, classId: Id | null): Release {
  return (classId !== null && rule.perClass.get(classId)) || rule;
}

/** Whether a release lets a node be seen at `t`, read for a class or in general. */
export function isOut(rule: ReleaseRule, classId: Id | null, t: Instant): boolean {
  const release = releaseFor(rule, classId);
  return !release.held && within(release, t);
}

/** The word a screen shows for a release. */
export type ReleaseState = 'out' | 'later' | 'held' | 'ended';

/** The state of a single release at `t`; a hold outweighs dates. */
export function releaseState(release: Release, t: Instant): ReleaseState {
  if (release.held) return 'held';
  if (release.from !== null && t < release.from) return 'later';
  if (release.until !== null && release.until <= t) return 'ended';
  return 'out';
}

/**
 * The state that results from a chain of nodes, topmost first. A hold anywhere closes everything below it;
 * then an ended node, then one that is still to come. `from` is the instant at which the last one comes out.
 */
export function chainState(
  rules: readonly ReleaseRule[],
  classId: Id | null,
  t: Instant,
): { state: ReleaseState; from: Instant | null } {
  const releases = rules.map((rule) => releaseFor(rule, classId));
  const states = releases.map((release) => releaseState(release, t));
  if (states.includes('held')) return { state: 'held', from: null };
  if (states.includes('ended')) return { state: 'ended', from: null };
  const starts = releases.flatMap((r) => (r.from !== null && t < r.from ? [r.from] : []));
  return starts.length > 0
    ? { state: 'later', from: Math.max(...starts) }
    : { state: 'out', from: null };
}
