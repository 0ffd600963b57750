/**
 * What a canvas chart is drawn for: the width that its parent leaves it, and the page's scheme of
 * colours.
 */
import { useEffect, useState, type RefObject } from 'react';

export function useChartFrame(canvas: RefObject<HTMLCanvasElement | null>): {
  width: number;
  scheme: string;
} {
  const [width, setWidth] = useState(0);
  const [scheme, setScheme] = useState('');
  useEffect(() => {
    const element = canvas.current!.parentElement!;
    const resize = new ResizeObserver(() => setWidth(element.clientWidth));
    resize.observe(element);
    const root = document.documentElement;
    const recolour = new MutationObserver(() => setScheme(root.dataset.scheme ?? ''));
    recolour.observe(root, { attributes: true, attributeFilter: ['data-scheme'] });
    return () => {
      resize.disconnect();
      recolour.disconnect();
    };
  }, [canvas]);
  return { width, scheme };
}
