import type { Catalog } from '../catalog/catalog';
import { batteryOfLook, type Taken } from '../charging/battery-of-look';
import { plugContext, type PlugContext } from '../charging/judge-plug-in';
import type { Ticket } from './ticket-record';

/** What a ticket's plug-in readings are judged with. */
export const plugContextOf = (
	{ model, battery }: Pick<Ticket, 'model' | 'battery'>,
	catalog: Pick<Catalog, 'models' | 'connectors'>,
	look?: Taken
): PlugContext => plugContext(catalog, model, batteryOfLook(battery, look));
