import { procedureAt, type Catalog } from '../catalog/catalog';
import { codeWords } from '../units/code';
import type { Ticket } from './ticket-record';
import { groupByMinute } from '../evidence/group-by-minute';
import type { TrailEntry } from './trail-entry';

interface BenchLine {
	kind: TrailEntry['kind'];
	text: string;
	stamp: { at?: number; by?: string };
}

/** What hands did at the bench as lines of the trail: procedures, heat, joints, screws, the bench supply, pictures. */
export function benchEntries(ticket: Ticket, catalog: Catalog): BenchLine[] {
	const line = (kind: TrailEntry['kind'], text: string, stamp: BenchLine['stamp'] = {}): BenchLine => ({
		kind,
		text,
		stamp
	});
	return [
		...groupByMinute(ticket.steps, 60).map((group) =>
			line('tried', stepWords(group, catalog), stampOf(group[0]))
		),
		...ticket.heat.flatMap((heat) =>
			heat.on || heat.seconds === undefined
				? []
				: [line('tried', `Heat on the board for ${Math.round(heat.seconds)} s.`, heat)]
		),
		...groupByMinute(ticket.screws, 30).map((group) =>
			line('tried', screwWords(group, ticket, catalog), group[0])
		),
		...groupByMinute(ticket.photos, 30).map((group) =>
			line(
				'seen',
				`${group.length === 1 ? 'Picture' : `${group.length} pictures`}: ${[...new Set(group.map((photo) => codeWords(photo.of)))].join(', ')}.`,
				group[0]
			)
		)
	];
}

const stampOf = (entry: Ticket['steps'][number] | undefined): BenchLine['stamp'] => {
	const worker = entry?.technician ?? entry?.by;
	return {
		...(entry?.at === undefined ? {} : { at: entry.at }),
		...(worker === undefined ? {} : { by: worker })
	};
};

function stepWords(group: Ticket['steps'], catalog: Catalog): string {
	const [first] = group;
	if (!first) return '';
	const followed = procedureAt(catalog, first.procedure, first.version);
	const label = followed?.label ?? codeWords(first.procedure);
	const stepCount = group.filter(({ did: action }) => action === 'done').length;
	const skipped = group.flatMap(({ did: action, step, why: reason }) =>
		action === 'skipped'
			? [`left out “${followed?.steps[step]?.says ?? `step ${step + 1}`}”: ${reason ?? ''}`]
			: []
	);
	const ended = group.find(({ did: action }) => action === 'ended');
	const words = [
		`${stepCount} of ${followed?.steps.length ?? '?'} steps`,
		...skipped,
		...(ended ? [`ended${ended.why ? `: ${ended.why}` : ''}`] : [])
	];
	return `${label}, version ${first.version}: ${words.join('; ')}.`;
}

function screwWords(group: Ticket['screws'], { model }: Ticket, catalog: Catalog): string {
	const map = catalog.models.get(model)?.screws ?? [];
	const placesOf = (action: Ticket['screws'][number]['did']) => group.filter((moved) => moved.did === action);
	const names = (moved: Ticket['screws']) =>
		moved.map(({ place }) => map.find((screw) => screw.place === place)?.label ?? place).join(', ');
	const words = [
		...(placesOf('out').length > 0 ? [`${placesOf('out').length} out`] : []),
		...(placesOf('in').length > 0 ? [`${placesOf('in').length} back in`] : []),
		...(placesOf('missing').length > 0 ? [`missing: ${names(placesOf('missing'))}`] : []),
		...(placesOf('left-over').length > 0 ? [`left over: ${names(placesOf('left-over'))}`] : [])
	];
	return `Screws: ${words.join('; ')}.`;
}
