import { Newest, type Shown } from './newest.svelte';

/** A page that looks at a view, and looks again: for tests alone. */
export function newestOf<View>(first: Shown<View>) {
	let data = $state.raw(first);
	let newest!: Newest<View>;
	const end = $effect.root(() => {
		newest = new Newest(() => data);
	});
	return { newest, end, look: (next: Shown<View>) => (data = next) };
}
