import { loadPanel, type PanelKey } from '$lib/components/ticket/panels';
import { standsAt, stepsOf } from '$lib/components/ticket/steps';
import type { PageLoad } from './$types';

/** The panel of the step at which the ticket stands comes with the page; the others follow. */
export const load: PageLoad = async ({ data }) => {
	const key = standsAt(stepsOf(data.view.ticket, data.view.gates)) as PanelKey;
	return { ...data, first: { key, panel: await loadPanel(key) } };
};
