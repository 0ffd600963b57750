'use client';
/** One player for as long as a page is there. */
import { useEffect, useState } from 'react';
import { Player } from './player';

export function usePlayer(): Player {
  const [player] = useState(() => new Player());
  useEffect(() => () => void player.close(), [player]);
  return player;
}
