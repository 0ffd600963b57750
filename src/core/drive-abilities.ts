/** What a drive can do, as it says itself and pages show it: of tracks, or of blocks. */

export interface TrackAbilities {
  cylinders: number;
  heads: number;
  rpm: number;
  /** Transitions as they come; or sectors, with what the drive says of each. */
  delivers: 'flux' | 'sectors';
  writes: boolean;
}

export interface BlockAbilities {
  /** How it is connected. */
  bus: string;
  /** Speeds that it can be set to, fastest first; none where it can't. */
  speeds: number[];
  delivers: 'blocks';
  writes: boolean;
}

export type DriveAbilities = TrackAbilities | BlockAbilities;

export const readsBlocks = (abilities: DriveAbilities | null): abilities is BlockAbilities =>
  abilities?.delivers === 'blocks';
