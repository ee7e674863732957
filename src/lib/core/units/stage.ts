/** Moments of a repair that an entry can belong to, in their order. */
export const STAGES = ['intake', 'diagnosis', 'port-off', 'after-repair', 'closing'] as const;
export type Stage = (typeof STAGES)[number];

/** After the old port came off and before a new one is on: what was wrong shows there, what is known good does not. */
export const PORT_OFF = 'port-off' satisfies Stage;

/**
 * The moment of a repair that what is entered now belongs to: after the repairs that were tried; of a repair of which only steps were done,
 * with the old port off where one of them took it off.
 * @param takesOff operations that take the old port off
 */
export function stageNow(
	attempts: readonly { operation: string; part?: boolean | undefined }[],
	takesOff: readonly string[]
): 'diagnosis' | 'port-off' | 'after-repair' {
	if (attempts.some(({ part }) => !part)) return 'after-repair';
	return attempts.some(({ operation }) => takesOff.includes(operation)) ? 'port-off' : 'diagnosis';
}

/** Stages that speak of what was wrong; the others come after a repair. */
export const beforeRepair = (stage: string | undefined) => stage !== 'after-repair' && stage !== 'closing';
