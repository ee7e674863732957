/** The worker that reads logs; its address stands here literally, so that the build finds it. */
export const openLogWorker = () =>
	new Worker(new URL('../../workers/meter-log.worker.ts', import.meta.url), { type: 'module' });
