/** Which version of the program this is, as what leaves the house tells. */
import { version } from '../../../package.json';

export const PROGRAM_VERSION: string = version;
