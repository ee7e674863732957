/** Moments of a repair that an entry can belong to, in their order. */
export const STAGES = ['intake', 'diagnosis', 'port-off', 'after-repair', 'closing'] as const;
export type Stage = (typeof STAGES)[number];

/** After the old port came off and before a new one is on: what was wrong shows there, what is known good does not. */
export const PORT_OFF: Stage = 'port-off';

/** Stages that speak of what was wrong; the others come after a repair. */
export const beforeRepair = (stage: string | undefined) => stage !== 'after-repair' && stage !== 'closing';
