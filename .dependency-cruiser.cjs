/** What each room of core may import, as CONTRIBUTING.md tells it; zod and itself besides. */
const ROOMS = {
	units: [],
	statistics: ['units'],
	catalog: ['units'],
	readings: ['statistics', 'catalog', 'units'],
	charging: ['statistics', 'catalog', 'units'],
	evidence: ['units', 'catalog', 'statistics', 'readings', 'charging'],
	bench: ['units', 'catalog', 'statistics'],
	comebacks: ['units', 'statistics'],
	ledger: ['units', 'catalog', 'statistics', 'comebacks'],
	stock: ['units', 'catalog', 'statistics'],
	returns: ['units', 'catalog', 'statistics', 'comebacks'],
	words: [],
	tickets: ['units', 'catalog', 'readings', 'charging', 'evidence', 'bench', 'words'],
	messages: ['units', 'catalog', 'charging', 'tickets', 'words'],
	exchange: ['units', 'catalog', 'readings', 'charging', 'evidence', 'tickets'],
	diagnosis: ['units', 'catalog', 'statistics', 'readings', 'charging', 'evidence'],
	quoting: ['units', 'catalog', 'statistics', 'diagnosis', 'ledger', 'comebacks'],
	planning: ['units', 'catalog', 'statistics', 'bench', 'tickets', 'diagnosis', 'quoting'],
	simulation: ['.*']
};

/** What each room of the server may import of the others, as CONTRIBUTING.md tells it; core and itself besides. */
const SERVER_ROOMS = {
	logging: [],
	database: [],
	audit: ['database'],
	instruments: [],
	photos: [],
	catalog: ['audit', 'database'],
	identity: ['audit', 'database'],
	books: ['catalog', 'database', 'stock'],
	returns: ['catalog', 'database', 'stock'],
	memory: ['catalog', 'database'],
	diagnosis: ['catalog', 'database', 'memory'],
	'known-good': ['catalog', 'database', 'memory'],
	stock: ['audit', 'catalog', 'database'],
	// what is queued stands below tickets, what sends it above: files hold no circle
	messages: ['audit', 'database', 'http', 'memory', 'tickets'],
	tickets: [
		'audit',
		'catalog',
		'database',
		'diagnosis',
		'instruments',
		'memory',
		'messages',
		'photos',
		'stock'
	],
	customers: ['audit', 'database', 'http', 'identity', 'memory', 'messages', 'photos', 'shown', 'tickets'],
	floor: ['database', 'diagnosis', 'memory', 'tickets'],
	http: ['database', 'identity', 'tickets'],
	exchange: ['audit', 'catalog', 'database', 'http', 'photos', 'tickets'],
	shown: ['database', 'http'],
	worker: ['database', 'diagnosis', 'exchange', 'floor', 'http', 'memory', 'returns', 'shown', 'tickets'],
	workbook: ['http', 'worker'],
	opening: ['catalog', 'database', 'exchange', 'identity'],
	api: ['http', 'identity', 'diagnosis', 'returns']
};

/** @type {import('dependency-cruiser').IConfiguration} */
module.exports = {
	forbidden: [
		{
			name: 'core-is-pure',
			severity: 'error',
			comment: 'core is plain TypeScript: it imports core and zod, no framework, no platform.',
			from: { path: '^src/lib/core/', pathNot: '\\.test\\.ts$' },
			to: { pathNot: '^src/lib/core/|node_modules/zod/' }
		},
		{
			name: 'core-knows-its-rooms',
			severity: 'error',
			comment: 'a new room of core needs a line in ROOMS.',
			from: { path: '^src/lib/' },
			to: { path: '^src/lib/core/', pathNot: `^src/lib/core/(${Object.keys(ROOMS).join('|')})/` }
		},
		...Object.entries(ROOMS).map(([room, may]) => ({
			name: `core-${room}`,
			severity: 'error',
			from: { path: `^src/lib/core/${room}/`, pathNot: '\\.test\\.ts$' },
			to: { path: '^src/lib/core/', pathNot: `^src/lib/core/(${[room, ...may].join('|')})/` }
		})),
		...Object.entries({ learn: [], infer: ['learn'], plan: ['learn', 'infer'] }).map(([folder, may]) => ({
			name: `diagnosis-${folder}`,
			severity: 'error',
			comment: 'learn knows nothing of odds, odds nothing of plans, plans nothing of the track record.',
			from: { path: `^src/lib/core/diagnosis/${folder}/`, pathNot: '\\.test\\.ts$' },
			to: { path: `^src/lib/core/diagnosis/(?!${[folder, ...may].join('|')})[a-z]+/` }
		})),
		{
			name: 'server-knows-its-rooms',
			severity: 'error',
			comment: 'a new room of the server needs a line in SERVER_ROOMS.',
			from: {},
			to: { path: '^src/lib/server/', pathNot: `^src/lib/server/(${Object.keys(SERVER_ROOMS).join('|')})/` }
		},
		...Object.entries(SERVER_ROOMS).map(([room, may]) => ({
			name: `server-${room}`,
			severity: 'error',
			from: { path: `^src/lib/server/${room}/` },
			to: { path: '^src/lib/server/', pathNot: `^src/lib/server/(${[room, 'logging', ...may].join('|')})/` }
		})),
		{
			name: 'components-stay-in-the-browser',
			severity: 'error',
			comment: 'components take data as props; of the server they may name types only.',
			from: { path: '^src/lib/components/' },
			to: { path: '^src/lib/server/', dependencyTypesNot: ['type-only'] }
		},
		{
			name: 'sql-stays-in-server',
			severity: 'error',
			from: { pathNot: '^src/lib/server/' },
			to: { path: 'node_modules/(knex|mysql2)/' }
		},
		{
			name: 'no-circular',
			severity: 'error',
			comment: 'types count as well: what needs each other belongs in one file, or its types in a third.',
			from: {},
			to: { circular: true }
		}
	],
	options: {
		doNotFollow: { path: 'node_modules' },
		// what the compiler of words writes
		exclude: { path: 'core/words/compiled/(server|registry|runtime)' },
		tsPreCompilationDeps: true,
		tsConfig: { fileName: 'tsconfig.json' },
		webpackConfig: { fileName: '.dependency-cruiser.resolve.cjs' },
		enhancedResolveOptions: {
			exportsFields: ['exports'],
			conditionNames: ['svelte', 'import', 'require', 'node', 'default', 'types'],
			extensions: ['.ts', '.js', '.mjs', '.cjs', '.svelte', '.d.ts', '.json']
		}
	}
};
