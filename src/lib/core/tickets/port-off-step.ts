import { openRun } from '../bench/procedure-run';
import { procedureAt, type Catalog } from '../catalog/catalog';
import type { BoardPoint } from '../catalog/kinds-of-devices';
import { PORT_OFF } from '../units/stage';
import { pointOf } from '../units/probed-place';
import type { Ticket } from './ticket-record';

/** A procedure that takes the old port off: its operation does, or another that is a part of it. */
const takesPortOff = ({ operations }: Pick<Catalog, 'operations'>, operation: string): boolean =>
	[...operations.values()].some(
		({ code, opens, part_of: whole }) =>
			opens?.includes(PORT_OFF) && (code === operation || whole === operation)
	);

/**
 * The stage of what is entered while a procedure is followed: with the old port off at the measurement that must be made then; null
 * where the run says nothing of it.
 */
export function stageOfRun(
	{ steps }: Pick<Ticket, 'steps'>,
	catalog: Pick<Catalog, 'operations' | 'records'>
): typeof PORT_OFF | null {
	const run = openRun(steps);
	const followed = run && procedureAt(catalog, run.procedure, run.version);
	const step = followed?.steps[run?.next ?? 0];
	if (!followed || step?.kind !== 'measure' || !step.must) return null;
	return takesPortOff(catalog, followed.operation) ? PORT_OFF : null;
}

/** What is still to be measured with the old port off before the new one goes on. */
export interface LeftToRead {
	/** points that the board names for this moment and nobody has read */
	points: readonly Pick<BoardPoint, 'code' | 'label'>[];
	/** nothing at all was entered with the old port off */
	nothing: boolean;
}

/** @param points of the model's board */
export function leftToRead(
	{ readings, observations }: Pick<Ticket, 'readings' | 'observations'>,
	points: readonly BoardPoint[]
): LeftToRead {
	const isThen = ({ stage }: { stage?: string | undefined }) => stage === PORT_OFF;
	const read = new Set(readings.filter(isThen).map(({ pin }) => pointOf(pin)));
	return {
		points: points.filter(({ code, when }) => when === PORT_OFF && !read.has(code)),
		nothing: !readings.some(isThen) && !observations.some(isThen)
	};
}

/** What is left to be read, in words; null where nothing is. */
export function leftWords({ points, nothing }: LeftToRead): string | null {
	if (points.length > 0)
		return `not read with the old port off: ${points.map(({ label }) => label).join(', ')}`;
	return nothing ? 'nothing was measured with the old port off' : null;
}
