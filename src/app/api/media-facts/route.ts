import { FactsQuestion, factTable, listFacts } from '@/server/features/media/fact-list';
import { route } from '@/server/features/operators/route';

export const dynamic = 'force-dynamic';
/** What is registered of media: a list, or a table to save where `sheet` asks for one. */
export const GET = route(async ({ request, db }) => {
  const { sheet, ...asked } = Object.fromEntries(new URL(request.url).searchParams);
  const question = FactsQuestion.parse(asked);
  return sheet === undefined ? listFacts(db, question) : factTable(db, question, sheet === 'json');
});
