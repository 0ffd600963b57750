// Writes the language that nobody speaks, so that the compiler holds it against English.
import { makePseudo } from './lib/prepare.mjs';

await makePseudo();
