import { meterSample, powerSample, type MeterSample, type PowerSample } from '$lib/core/readings/instrument';

export type Sample = MeterSample | PowerSample;
export type FeedState = 'idle' | 'running' | 'ended' | 'lost';

/** How fast a file is played; a person can follow the walk at twice its time. */
const REPLAY_SPEED = 2;

/**
 * One instrument's samples on the screen, from the bench (server-sent events) or from a file. When it is lost it says
 * so; what was taken before stays taken, and a new start goes on from there.
 */
export class InstrumentFeed {
	state = $state<FeedState>('idle');
	latest = $state.raw<Sample | null>(null);
	#source: EventSource | null = null;
	#timer: ReturnType<typeof setTimeout> | null = null;

	/** @param address of the stream, with its query */
	connect(address: string, take: (sample: Sample) => void): void {
		this.stop();
		this.state = 'running';
		const source = new EventSource(address);
		this.#source = source;
		source.addEventListener('sample', ({ data }) => this.#take(JSON.parse(data as string), take));
		source.addEventListener('end', () => this.#close('ended'));
		source.addEventListener('lost', () => this.#close('lost'));
		// no silent trying again: the hand must know that nothing is being read
		source.onerror = () => this.#close('lost');
	}

	replay(samples: readonly Sample[], take: (sample: Sample) => void): void {
		this.stop();
		this.state = 'running';
		const start = performance.now();
		const first = samples[0]?.atMs ?? 0;
		let next = 0;
		const step = () => {
			const now = (performance.now() - start) * REPLAY_SPEED + first;
			while (next < samples.length && (samples[next] as Sample).atMs <= now)
				this.#take(samples[next++], take);
			if (next >= samples.length) this.#close('ended');
			else this.#timer = setTimeout(step, 40);
		};
		step();
	}

	stop(): void {
		if (this.state === 'running') this.#close('idle');
	}

	#take(data: unknown, take: (sample: Sample) => void): void {
		const read = [meterSample, powerSample]
			.map((schema) => schema.safeParse(data))
			.find(({ success }) => success);
		if (!read?.data) return;
		this.latest = read.data;
		take(read.data);
	}

	#close(state: FeedState): void {
		this.#source?.close();
		this.#source = null;
		if (this.#timer) clearTimeout(this.#timer);
		this.#timer = null;
		this.state = state;
	}
}

let sound: AudioContext | null = null;

/** A short tone: a reading was taken (high), something is wrong (low). Silent where the browser has no sound. */
export function tone(kind: 'taken' | 'off'): void {
	try {
		sound ??= new AudioContext();
		const oscillator = sound.createOscillator();
		const gain = sound.createGain();
		oscillator.frequency.value = kind === 'taken' ? 880 : 330;
		gain.gain.setValueAtTime(0.12, sound.currentTime);
		gain.gain.exponentialRampToValueAtTime(0.001, sound.currentTime + 0.18);
		oscillator.connect(gain).connect(sound.destination);
		oscillator.start();
		oscillator.stop(sound.currentTime + 0.2);
	} catch {
		sound = null;
	}
}
