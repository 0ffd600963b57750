/** `npm run bench`: prints the figures as a table, or with `--json` as JSON. */
import { benchFlux } from './flux';

const flux = await benchFlux();
if (process.argv.includes('--json')) console.log(JSON.stringify({ flux }, null, 2));
else console.log(JSON.stringify(flux, null, 1));
