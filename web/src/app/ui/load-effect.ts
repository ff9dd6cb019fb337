import type { LoadEffect } from '@unirota/core';

const EFFECTS: Readonly<Record<LoadEffect, readonly [mark: string, text: string]>> = {
  opposes: ['◁', $localize`opposes the motion`],
  drives: ['▷', $localize`drives the train`],
  idle: ['–', $localize`does not load the train`],
};
/** What a load does in steady motion, in words; nothing while everything stands. */
export const effectText = (effect: LoadEffect | undefined): string => (effect ? `${EFFECTS[effect][0]} ${EFFECTS[effect][1]}` : '');
/** The same as a mark beside its name. */
export const effectMark = (effect: LoadEffect | undefined): string => (effect ? `${EFFECTS[effect][0]} ` : '');
