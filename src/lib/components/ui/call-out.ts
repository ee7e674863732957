/** How a browser calls: two tones, and a notification where the person has allowed it. */

let audio: AudioContext | null = null;

/** Two short tones, the second higher. Silent where the browser does not let a page sound yet. */
export function sound(): void {
	try {
		audio ??= new AudioContext();
		void audio.resume();
		for (const [at, hertz] of [
			[0, 660],
			[0.25, 880]
		] as const) {
			const tone = audio.createOscillator();
			const loudness = audio.createGain();
			tone.frequency.value = hertz;
			loudness.gain.setValueAtTime(0.15, audio.currentTime + at);
			loudness.gain.exponentialRampToValueAtTime(0.001, audio.currentTime + at + 0.22);
			tone.connect(loudness).connect(audio.destination);
			tone.start(audio.currentTime + at);
			tone.stop(audio.currentTime + at + 0.22);
		}
	} catch {
		// no sound here: the title and the slip say it
	}
}

export const mayNotify = (): NotificationPermission | 'never' =>
	typeof Notification === 'undefined' ? 'never' : Notification.permission;

export function notify(title: string, tag: string): void {
	if (mayNotify() === 'granted') new Notification(title, { tag });
}
