// SvelteKit writes its alias into .svelte-kit/tsconfig.json without a baseUrl, which dependency-cruiser's
// path plug-in cannot use: repeat it here.
const path = require('node:path');

module.exports = { resolve: { alias: { $lib: path.resolve(__dirname, 'src/lib') } } };
