import { SideBySideView } from '@/ui/holdings/side-by-side-view';

export const dynamic = 'force-dynamic';

export default async function SideBySide({
  params,
}: {
  params: Promise<{ a: string; b: string }>;
}) {
  const { a, b } = await params;
  return <SideBySideView a={decodeURIComponent(a)} b={decodeURIComponent(b)} />;
}
