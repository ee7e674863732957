/** Moments of a repair that an entry can belong to, in their order. */
export const STAGES = ['intake', 'diagnosis', 'after-repair', 'closing'] as const;
export type Stage = (typeof STAGES)[number];

/** Stages that speak of what was wrong; the others come after a repair. */
export const beforeRepair = (stage: string | undefined) => stage !== 'after-repair' && stage !== 'closing';
