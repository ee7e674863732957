import type { ProcedureStep, StepKind } from '$lib/core/catalog/kinds-of-bench';
import { alloyWords } from '$lib/core/charging/solder-alloys';

/** A kind of step by shape and word, never by colour alone. */
export const STEP_LOOK: Record<StepKind, { mark: string; word: string; tone: string }> = {
	hands: { mark: '◼', word: 'hands', tone: 'text-ink' },
	heat: { mark: '▲', word: 'heat', tone: 'text-copper' },
	look: { mark: '◉', word: 'look', tone: 'text-open' },
	measure: { mark: '┼', word: 'measure', tone: 'text-open' },
	wait: { mark: '◔', word: 'wait', tone: 'text-low' },
	gate: { mark: '◇', word: 'check', tone: 'text-agrees' },
	part: { mark: '●', word: 'part', tone: 'text-ink' },
	caution: { mark: '✕', word: 'caution', tone: 'text-short' }
};

/** What a step is done with: heat, air, alloy with its reason, tool, place of the bench. */
export function settingsOf(step: ProcedureStep, stationLabel: (code: string) => string): string[] {
	return [
		...(step.celsius === undefined ? [] : [`${step.celsius} °C`]),
		...(step.air === undefined ? [] : [`air ${step.air} %`]),
		...(step.alloy === undefined ? [] : [alloyWords(step.alloy)]),
		...(step.tool === undefined ? [] : [step.tool]),
		...(step.station === undefined ? [] : [stationLabel(step.station)]),
		...(step.minutes === undefined ? [] : [`about ${step.minutes} min`])
	];
}
