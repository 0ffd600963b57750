import { CorrectManyView } from '@/ui/media/correct/correct-many-view';

export const dynamic = 'force-dynamic';

export default function CorrectMany() {
  return <CorrectManyView />;
}
