import { CAUTION_WORDS } from '../../charging/battery-cautions';
import type { Catalog } from '../../catalog/catalog';
import type { Features } from '../learn/evidence';
import type { Step } from './next-step';

/** Some seconds at the bench supply, and the battery measured again. Common practice, no source. */
const WAKING_MINUTES = 5;

/** The battery as it was measured last reads nothing: whether its protection cut off, or it is not connected, is not known yet. */
function readsNothing({ answers, since = [] }: Features): boolean {
	const states = [answers, ...since.map((seen) => seen.answers)]
		.flat()
		.filter(({ question }) => question === 'battery:state');
	return states.at(-1)?.answer === 'cut-off';
}

/**
 * Waking a pack that reads nothing comes before the board is condemned or a repair is begun: it is minutes, and what is
 * measured after it counts instead of the nought.
 * @param steps best first; costs in hundredths
 * @param hourlyMinor an hour of bench time, hundredths
 */
export function withWaking(
	steps: readonly Step[],
	features: Features,
	{ catalog, hourlyMinor, measures }: { catalog: Catalog; hourlyMinor: number; measures: boolean }
): Step[] {
	const [best] = steps;
	if (!best || !readsNothing(features)) return [...steps];
	const wakingCode = wakingOperation(catalog);
	const waking = steps.find(({ kind, code }) => kind === 'operation' && code === wakingCode);
	if (waking) return [waking, ...steps.filter((step) => step !== waking)];
	if (wakingCode !== null || !measures) return [...steps];
	return [wakingStep(best, hourlyMinor), ...steps];
}

/** The operation that mends what a pack without any voltage speaks for: waking it; null where the catalog has none. */
function wakingOperation({ expectations, operations }: Catalog): string | null {
	const stated = expectations
		.filter(({ measured }) => measured === 'battery:state')
		.map(({ given, outcomes }) => ({ given, share: outcomes?.['cut-off'] ?? 0 }));
	const usual = stated.find(({ given }) => given === undefined)?.share ?? 0;
	const likeliest = stated
		.filter(({ given }) => given !== undefined)
		.reduce((best, each) => (each.share > best.share ? each : best), { given: undefined, share: 0 });
	const flat = likeliest.share >= SPEAKS_FOR * usual ? likeliest.given : undefined;
	if (flat === undefined) return null;
	return [...operations.values()].find(({ fixes }) => fixes.includes(flat))?.code ?? null;
}
/** The fault under which packs read nothing most often, and so many times as often as usual. A choice. */
const SPEAKS_FOR = 5;

function wakingStep(best: Step, hourlyMinor: number): Step {
	return {
		kind: 'measure',
		code: 'wake',
		label: 'Wake the pack, then measure it again',
		expectedCostMinor: best.expectedCostMinor + (WAKING_MINUTES / 60) * hourlyMinor,
		expectedMinutes: best.expectedMinutes + WAKING_MINUTES,
		why: 'The battery reads nothing: its protection may have cut off. Some supervised seconds tell, before board or battery is condemned; then what it reads counts, not the nought.',
		caution: `${CAUTION_WORDS.supervise} Workbook, Flat pack, has the limits.`,
		cautions: ['supervise'],
		outcomes: []
	};
}
