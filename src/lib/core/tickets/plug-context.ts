import type { Catalog } from '../catalog/catalog';
import { plugContext, type PlugContext } from '../charging/judge-plug-in';
import { beforeRepair, type Stage, type Ticket } from './ticket-record';

/** A ticket's battery as last measured on the same side of the repair as a stage; as last measured without one. */
export function batteryVoltsAt({ battery }: Pick<Ticket, 'battery'>, stage?: Stage): number | null {
	const near = battery.filter(
		(reading) => stage === undefined || beforeRepair(reading.stage) === beforeRepair(stage)
	);
	return near.at(-1)?.volts ?? null;
}

/** What a ticket's plug-in readings are judged with. */
export const plugContextOf = (
	ticket: Pick<Ticket, 'model' | 'battery'>,
	catalog: Pick<Catalog, 'models'>,
	stage?: Stage
): PlugContext => plugContext(catalog.models.get(ticket.model), batteryVoltsAt(ticket, stage));
