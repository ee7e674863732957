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
	const own = wakingOperation(catalog);
	const waking = steps.find(({ kind, code }) => kind === 'operation' && code === own);
	if (waking) return [waking, ...steps.filter((step) => step !== waking)];
	if (own !== null || !measures) return [...steps];
	return [wakingStep(best, hourlyMinor), ...steps];
}

/** The operation that mends what a pack without any voltage speaks for: waking it; null where the catalog has none. */
function wakingOperation({ expectations, operations }: Catalog): string | null {
	const flat = expectations.find(
		({ given, measured, outcomes }) =>
			given !== undefined && measured === 'battery:state' && (outcomes?.['cut-off'] ?? 0) >= SPEAKS_FOR
	)?.given;
	if (flat === undefined) return null;
	return [...operations.values()].find(({ fixes }) => fixes.includes(flat))?.code ?? null;
}
/** A fault under which more than every third pack reads nothing. A choice. */
const SPEAKS_FOR = 0.35;

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
