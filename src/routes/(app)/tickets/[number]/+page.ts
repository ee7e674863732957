import { loadPanel, type PanelKey } from '$lib/components/ticket/panels';
import { standsAt, stepsOf } from '$lib/components/ticket/steps';
import type { PageLoad } from './$types';

/** The panel of the step at which the ticket stands comes with the page; the others follow. */
export const load: PageLoad = async ({ data }) => {
	const { ticket, gates, about, stageOfRun } = data.view;
	// with the old port off what a procedure waits for is entered: at the points of the board, else as a check
	const measured = about.points?.some(({ when }) => when === stageOfRun) ? 'pins' : 'checks';
	const key = (stageOfRun === null ? standsAt(stepsOf(ticket, gates)) : measured) as PanelKey;
	return { ...data, first: { key, panel: await loadPanel(key) } };
};
