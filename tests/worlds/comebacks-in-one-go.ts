import { comebackAlarmsInSteps } from '$lib/core/returns/comeback-alarms';
import { comebackEffectsInSteps } from '$lib/core/returns/fair-ratio';
import { inOneGo } from '$lib/core/units/in-steps';

/** What the server works out in slices, in one go. */
export const comebackAlarms = (...asked: Parameters<typeof comebackAlarmsInSteps>) =>
	inOneGo(comebackAlarmsInSteps(...asked));
export const comebackEffects = (...asked: Parameters<typeof comebackEffectsInSteps>) =>
	inOneGo(comebackEffectsInSteps(...asked));
