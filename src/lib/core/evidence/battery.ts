import { ROLES } from '../units/role';
import { z } from 'zod';
import { CELL_STATE_WORDS, packState } from '../charging/cell-limits';
import { CELL_STATES, type CellState } from '../units/seen-codes';
import { stamp } from './entry-fields';
import { instrument, instrumentName, stage, stageField } from './instrument-fields';
import { measurement } from './measurement';

/** Warmth of a cell, degrees Celsius. */
const celsius = z.number().min(-60).max(150);
const entry = z.strictObject({
	stage,
	volts: z.number().min(-1000).max(1000),
	celsius: celsius.optional(),
	...instrument,
	...stamp
});

/** The pack's voltage, and how warm its cells are. */
export const BATTERY = measurement({
	list: 'battery',
	entry,
	most: 1000,
	step: 'plug',
	verb: 'battery',
	shape: {
		stage: stageField,
		volts: z.number().min(0).max(100),
		celsius: celsius.optional(),
		meter: instrumentName.optional()
	},
	roles: ROLES,
	says: 'record a battery voltage',
	entries: (reading) => [reading],
	moment: 'stage',
	questions: { 'battery:state': CELL_STATES },
	answers(readings, { model, catalog }) {
		const last = readings.at(-1);
		const pack = catalog.models.get(model)?.battery;
		return last
			? [
					{
						question: 'battery:state',
						answer: packState(last.volts, pack?.cells ?? 1, pack?.chemistry).state
					}
				]
			: [];
	},
	words: (_, answer) => `battery ${CELL_STATE_WORDS[answer as CellState] ?? answer}`,
	asks: {
		code: 'battery',
		label: 'Measure the battery',
		question: 'battery:state',
		minutes: 5,
		needs: ['opened'],
		caution: 'A swollen, leaking or hot pack is not probed.'
	},
	trail: (readings) =>
		readings.map((reading) => ({
			kind: 'measured',
			text: `Battery ${reading.volts.toFixed(2)} V${reading.celsius === undefined ? '' : `, cells at ${reading.celsius} °C`}.`,
			stamp: reading
		}))
});
