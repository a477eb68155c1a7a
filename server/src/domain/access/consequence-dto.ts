import type { Consequence } from '@sammlung/contract';
import type { AudienceChange, LaterEffect } from '@sammlung/core';

/** What a change does for one audience, as the API tells it; nothing where there is no line for it. */
export function toConsequence(line: AudienceChange | undefined, asks: boolean): Consequence {
  const later = (effect: LaterEffect | null | undefined) =>
    effect ? { ...effect, from: new Date(effect.from).toISOString() } : null;
  return {
    gains: line?.gains ?? null,
    loses: line?.loses ?? null,
    gainsLater: later(line?.gainsLater),
    losesLater: later(line?.losesLater),
    asks,
  };
}
