import { CAUTION_WORDS } from '../../charging/battery-cautions';
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
 * @param hourlyMinor an hour of hands, hundredths
 */
export function withWaking(steps: readonly Step[], features: Features, hourlyMinor: number): Step[] {
	const [best] = steps;
	if (!best || !readsNothing(features)) return [...steps];
	const waking: Step = {
		kind: 'measure',
		code: 'wake',
		label: 'Wake the pack, then measure it again',
		expectedCostMinor: best.expectedCostMinor + (WAKING_MINUTES / 60) * hourlyMinor,
		expectedMinutes: best.expectedMinutes + WAKING_MINUTES,
		why: 'The battery reads nothing: its protection may have cut off. Some supervised seconds tell, before board or battery is condemned; then what it reads counts, not the nought.',
		caution: `${CAUTION_WORDS.supervise} Workbook, Flat pack, has the limits.`,
		outcomes: []
	};
	return [waking, ...steps];
}
