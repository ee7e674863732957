import type { Component } from 'svelte';
import type { BenchCatalog } from '$lib/server/catalog/bench-catalog';

/** What a step's panel is shown with; each takes what it needs. */
interface PanelProps {
	bench: BenchCatalog;
	/** the test or operation that was chosen as the next step */
	picked: string | null;
	/** its step is the one on the screen */
	active: boolean;
}
export type Panel = Component<PanelProps>;

/** The panels by step, each loaded when it is needed: a ticket opens with one of them. */
const PANELS = {
	look: () => import('./LookPanel.svelte'),
	plug: () => import('./PlugInPanel.svelte'),
	pins: () => import('./PinsPanel.svelte'),
	checks: () => import('./ChecksPanel.svelte'),
	repair: () => import('./RepairPanel.svelte'),
	prove: () => import('./ProvePanel.svelte'),
	close: () => import('./ClosePanel.svelte')
} as const;
export type PanelKey = keyof typeof PANELS;
export const PANEL_KEYS = Object.keys(PANELS) as readonly PanelKey[];

export const loadPanel = async (key: PanelKey): Promise<Panel> => (await PANELS[key]()).default as Panel;
