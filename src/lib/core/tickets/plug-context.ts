import type { Catalog } from '../catalog/catalog';
import type { PlugContext } from '../charging/judge-plug-in';
import type { Stage, Ticket } from './ticket-record';

/** What a ticket's plug-in readings are judged with: its model, and its battery as last measured up to a stage. */
export function plugContextOf(
	ticket: Pick<Ticket, 'model' | 'battery'>,
	catalog: Pick<Catalog, 'models'>,
	stage?: Stage
): PlugContext {
	const model = catalog.models.get(ticket.model);
	const early: readonly Stage[] = ['intake', 'diagnosis'];
	const ofStage = ticket.battery.filter(
		(reading) => stage === undefined || early.includes(reading.stage) === early.includes(stage)
	);
	return {
		healthy: model?.charge ?? null,
		battery: model?.battery ?? null,
		batteryVolts: ofStage.at(-1)?.volts ?? null
	};
}
