/** A view as the server last showed it, and the newer one that may be on its way (`server/shown/shown.ts`). */
export interface Shown<View> {
	shown: { view: View; asOf: number };
	newer: Promise<{ view: View; asOf: number } | null> | null;
}

/** What a page shows of such a view: the newer one as soon as it is there. Made while a component is set up. */
export class Newest<View> {
	readonly #data: () => Shown<View>;
	#came = $state.raw<{ of: Shown<View>; fresh: { view: View; asOf: number } } | null>(null);
	#pending = $state(false);

	constructor(data: () => Shown<View>) {
		this.#data = data;
		$effect(() => {
			const readData = data();
			this.#pending = readData.newer !== null;
			void readData.newer?.then((fresh) => {
				if (data() !== readData) return;
				this.#pending = false;
				if (fresh) this.#came = { of: readData, fresh };
			});
		});
	}

	get #now() {
		return this.#came?.of === this.#data() ? this.#came.fresh : this.#data().shown;
	}
	get view(): View {
		return this.#now.view;
	}
	get asOf(): number {
		return this.#now.asOf;
	}
	/** a newer one is on its way */
	get pending(): boolean {
		return this.#pending;
	}
}
