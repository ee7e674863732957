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
	const of = (kind: TrailEntry['kind'], text: string, stamp: BenchLine['stamp'] = {}): BenchLine => ({
		kind,
		text,
		stamp
	});
	return [
		...groupByMinute(ticket.steps, 60).map((group) =>
			of('tried', stepWords(group, catalog), stampOf(group[0]))
		),
		...ticket.heat.flatMap((heat) =>
			heat.on || heat.seconds === undefined
				? []
				: [of('tried', `Heat on the board for ${Math.round(heat.seconds)} s.`, heat)]
		),
		...groupByMinute(ticket.screws, 30).map((group) =>
			of('tried', screwWords(group, ticket, catalog), group[0])
		),
		...groupByMinute(ticket.photos, 30).map((group) =>
			of(
				'seen',
				`${group.length === 1 ? 'Picture' : `${group.length} pictures`}: ${[...new Set(group.map((photo) => codeWords(photo.of)))].join(', ')}.`,
				group[0]
			)
		)
	];
}

const stampOf = (entry: Ticket['steps'][number] | undefined): BenchLine['stamp'] => {
	const by = entry?.technician ?? entry?.by;
	return { ...(entry?.at === undefined ? {} : { at: entry.at }), ...(by === undefined ? {} : { by }) };
};

function stepWords(group: Ticket['steps'], catalog: Catalog): string {
	const [first] = group;
	if (!first) return '';
	const followed = procedureAt(catalog, first.procedure, first.version);
	const label = followed?.label ?? codeWords(first.procedure);
	const done = group.filter(({ did }) => did === 'done').length;
	const skipped = group.flatMap(({ did, step, why }) =>
		did === 'skipped' ? [`left out “${followed?.steps[step]?.says ?? `step ${step + 1}`}”: ${why ?? ''}`] : []
	);
	const ended = group.find(({ did }) => did === 'ended');
	const words = [
		`${done} of ${followed?.steps.length ?? '?'} steps`,
		...skipped,
		...(ended ? [`ended${ended.why ? `: ${ended.why}` : ''}`] : [])
	];
	return `${label}, version ${first.version}: ${words.join('; ')}.`;
}

function screwWords(group: Ticket['screws'], { model }: Ticket, catalog: Catalog): string {
	const map = catalog.models.get(model)?.screws ?? [];
	const by = (did: Ticket['screws'][number]['did']) => group.filter((moved) => moved.did === did);
	const names = (moved: Ticket['screws']) =>
		moved.map(({ place }) => map.find((screw) => screw.place === place)?.label ?? place).join(', ');
	const words = [
		...(by('out').length > 0 ? [`${by('out').length} out`] : []),
		...(by('in').length > 0 ? [`${by('in').length} back in`] : []),
		...(by('missing').length > 0 ? [`missing: ${names(by('missing'))}`] : []),
		...(by('left-over').length > 0 ? [`left over: ${names(by('left-over'))}`] : [])
	];
	return `Screws: ${words.join('; ')}.`;
}
