/** What a schema found wrong in a file that a person wrote. */
import { said } from '@/core/said';
import { tell } from '@/messages/tell';

interface Issue {
  path: PropertyKey[];
  message: string;
}

/** Where it is wrong, and what; of the file as a whole where it is no place of it. */
export const issueWords = ({ path, message }: Issue): string =>
  `${path.join('.') || tell(said('commands.theFile'))}: ${message}`;
