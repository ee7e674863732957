import { untrack } from 'svelte';
import type { Expected } from '$lib/core/readings/expected';
import { compareReadings, type Comparison } from '$lib/core/readings/compare';
import { formatReading } from '$lib/core/readings/typed-reading';
import type { Mode } from '$lib/core/readings/reference';
import type { Shown } from '$lib/core/readings/verdict';
import type { Stage } from '$lib/core/units/stage';
import { askExpected } from './ask-expected';
import type { TicketDesk } from './desk.svelte';

/** Where the probe goes: a contact of the port, or a point of the board. */
export interface WalkedPlace {
	pin: string;
	/** the line that it is on, or what it is called */
	net: string;
	side?: string | undefined;
	/** as it is named on the strip, where that is not the contact */
	label?: string;
	/** what it should read, where nothing is known good of it */
	hint?: string;
}

type PlacesOf = (stage: Stage, mode: Mode) => readonly WalkedPlace[];

/**
 * The walk of the probe over the contacts of a port, or over the points of a board: where it is, what was read, and what that means at once, before
 * the server has answered.
 */
export class PinWalk {
	stage = $state<Stage>('diagnosis');
	mode = $state<Mode>('diode');
	/** the instrument and board that readings are taken with; empty where no technician noted them */
	meter = $state('');
	board = $state('');
	position = $state(0);
	#desk: TicketDesk;
	/** what contacts should read on another meter or board than the last reading's */
	#other = $state.raw<{ key: string; expected: Record<string, Expected> } | null>(null);

	/** a word may be written beside a reading */
	readonly takesNotes: boolean;
	readonly #places: PlacesOf | null;

	/** @param points of the board, by the stage and the mode that they are read in; the contacts of the port without */
	constructor(desk: TicketDesk, points: PlacesOf | null = null) {
		this.#desk = desk;
		this.#places = points;
		this.takesNotes = points !== null;
		const { readings } = desk.ticket;
		this.stage = desk.stage;
		this.meter = readings.at(-1)?.meter ?? '';
		this.board = readings.at(-1)?.board ?? '';
		untrack(() => this.start());
	}

	pins = $derived.by<readonly WalkedPlace[]>(
		() => this.#places?.(this.stage, this.mode) ?? this.#desk.view.connector?.pins ?? []
	);
	/** the latest reading of each contact in this stage and mode, what waits for the line included */
	stored = $derived.by<Record<string, Shown>>(() =>
		Object.fromEntries(
			this.#desk.ticket.readings
				.filter((reading) => reading.stage === this.stage && reading.mode === this.mode)
				.map((reading) => [reading.pin, reading as Shown])
		)
	);
	/** contacts of this stage and mode whose latest reading is not confirmed yet */
	waiting = $derived.by(
		() =>
			new Set(
				this.#desk.ticket.readings
					.filter(
						(reading, i) =>
							reading.stage === this.stage &&
							reading.mode === this.mode &&
							this.#desk.isWaiting('readings', i)
					)
					.map(({ pin }) => pin)
			)
	);
	/** what contacts that were read again in this stage and mode read before */
	before = $derived.by(() => {
		const all = new Map<string, string[]>();
		for (const { stage, mode, pin, ...shown } of this.#desk.ticket.readings) {
			if (stage === this.stage && mode === this.mode)
				all.set(pin, [...(all.get(pin) ?? []), formatReading(shown)]);
		}
		return new Map([...all].map(([pin, shown]) => [pin, shown.slice(0, -1)] as const));
	});
	current = $derived.by(() => this.pins[this.position]);
	expected = $derived.by<Record<string, Expected>>(() =>
		this.#other?.key === this.#key() ? this.#other.expected : this.#desk.view.expected
	);
	comparison = $derived.by<Comparison>(() => {
		const { connector } = this.#desk.view;
		if (!connector) return { pins: [], nets: [], findings: [] };
		const readings = Object.entries(this.stored).map(([pin, shown]) => ({ pin, mode: this.mode, ...shown }));
		return compareReadings(connector, readings, {
			expected: (pin, mode) => this.expected[`${pin} ${mode}`] ?? null
		});
	});

	/** Contacts of the current side from here on: what one walk of an instrument takes. */
	restOfSide = $derived.by(() => {
		const side = this.current?.side;
		const rest = this.pins.slice(this.position);
		const end = rest.findIndex((pin) => pin.side !== side);
		return end < 0 ? rest : rest.slice(0, end);
	});

	#key = () => `${this.meter}\t${this.board}`;

	/** The walk starts at the first contact that this stage and mode have not read; later it goes where the hands go. */
	start(): void {
		const first = this.pins.findIndex(({ pin }) => this.stored[pin] === undefined);
		this.position = first < 0 ? 0 : first;
	}

	move(offset: number): void {
		this.position = Math.min(this.pins.length - 1, Math.max(0, this.position + offset));
	}

	go(pin: string): void {
		this.position = Math.max(
			0,
			this.pins.findIndex((contact) => contact.pin === pin)
		);
	}

	/** Takes a reading of the current contact and goes on to the next. */
	take(shown: Shown, note = ''): void {
		const contact = this.current;
		if (!contact || !this.#desk.may('read-pins')) return;
		this.move(1);
		void this.#desk.send({
			verb: 'read-pins',
			stage: this.stage,
			mode: this.mode,
			...(this.meter.trim() ? { meter: this.meter.trim() } : {}),
			...(this.board.trim() ? { board: this.board.trim() } : {}),
			readings: [{ pin: contact.pin, ...shown, ...(note.trim() ? { note: note.trim() } : {}) }]
		});
	}

	/** Asks what contacts should read on the meter and board that are written now. */
	async askExpected(): Promise<void> {
		const key = this.#key();
		const { model } = this.#desk.view.ticket;
		const expected = await askExpected({ model, meter: this.meter.trim(), board: this.board.trim() });
		if (expected) this.#other = { key, expected };
	}
}
