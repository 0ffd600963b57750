/**
 * Will the machine read it? Families of machines as data: which layouts their drives take, which
 * volumes their systems
 * know, how large, and what they need to start from a disk. Named by what they do; nobody's model
 * is meant.
 */
import { formName, type Density, type MediumForm } from '../medium-form';
import { said, type Said } from '@/core/said';
import { FIRST_TRACK, TRACK, WAVESAMPLE_BYTES } from '../volume/wavesample/banks';

type BootNeed = 'boot-sector' | 'first-track' | 'system-tracks' | 'none';

type TargetId =
  | 'fat-double-density'
  | 'fat-525-high-density'
  | 'fat-35-high-density'
  | 'fat-hard-disk'
  | 'gcr45'
  | 'mfm-10x512'
  | 'gcr62-catalogue'
  | 'gcr62-prodos'
  | 'cpm-8'
  | 'granule'
  | 'wavesample';

interface TargetProfile {
  id: TargetId;
  /** Layouts that its drives read and write; none of machines with a hard disk alone. */
  layouts: readonly string[];
  filesystems: readonly string[];
  /** Largest volume that its system takes, in bytes. */
  mostBytes: number;
  /** What a disk must carry that it is to start from. */
  boot: BootNeed;
  /** Of `system-tracks`. */
  systemBytes?: number;
}

const MIB = 1 << 20;
const BOOT_SECTOR = 512;

export const TARGET_PROFILES: readonly TargetProfile[] = Object.freeze([
  {
    id: 'fat-double-density',
    layouts: ['mfm-525-9x512', 'mfm-35-9x512'],
    filesystems: ['fat12'],
    mostBytes: MIB,
    boot: 'boot-sector',
  },
  {
    id: 'fat-525-high-density',
    layouts: ['mfm-525-9x512', 'mfm-525-15x512'],
    filesystems: ['fat12'],
    mostBytes: 2 * MIB,
    boot: 'boot-sector',
  },
  {
    id: 'fat-35-high-density',
    layouts: ['mfm-35-9x512', 'mfm-35-18x512'],
    filesystems: ['fat12'],
    mostBytes: 2 * MIB,
    boot: 'boot-sector',
  },
  {
    id: 'fat-hard-disk',
    layouts: [],
    filesystems: ['fat12', 'fat16'],
    mostBytes: 32 * MIB,
    boot: 'boot-sector',
  },
  {
    id: 'gcr45',
    layouts: ['gcr45-525-35'],
    filesystems: ['d64'],
    mostBytes: 174_848,
    boot: 'none',
  },
  {
    id: 'mfm-10x512',
    layouts: ['mfm-35-10x512'],
    filesystems: ['d81'],
    mostBytes: 819_200,
    boot: 'none',
  },
  {
    id: 'gcr62-catalogue',
    layouts: ['gcr62-525-16x256'],
    filesystems: ['catalogue16'],
    mostBytes: 143_360,
    boot: 'first-track',
  },
  {
    id: 'gcr62-prodos',
    layouts: ['gcr62-525-16x256'],
    filesystems: ['prodos'],
    mostBytes: 143_360,
    boot: 'first-track',
  },
  {
    id: 'cpm-8',
    layouts: ['fm-8-26x128'],
    filesystems: ['cpm'],
    mostBytes: 256_256,
    boot: 'system-tracks',
    systemBytes: 2 * 26 * 128,
  },
  {
    id: 'granule',
    layouts: ['mfm-525-18x256'],
    filesystems: ['granule'],
    mostBytes: 184_320,
    boot: 'none',
  },
  {
    id: 'wavesample',
    layouts: ['mfm-35-5x1024+512'],
    filesystems: ['wavesample'],
    mostBytes: WAVESAMPLE_BYTES,
    boot: 'system-tracks',
    systemBytes: FIRST_TRACK * TRACK,
  },
]);

/** Bytes of an image's beginning that profiles look at: the longest system tracks. */
export const TARGET_HEAD_BYTES = Math.max(
  ...TARGET_PROFILES.map(({ systemBytes = BOOT_SECTOR }) => systemBytes),
);

interface ToTarget {
  layout: string | null;
  bytes: number;
  volumes: readonly { filesystem: string; totalBytes: number }[];
  /** The first bytes of the image, a track of it or more. */
  head: Uint8Array;
}

export interface TargetFinding {
  /** `stops`: it will not read it; `beware`: it may not do what is meant. */
  weight: 'stops' | 'beware';
  sentence: Said;
}

/**
 * Bytes that a program which loads a system has at least; a volume that was only formatted carries
 * a few that do nothing.
 */
const LEAST_PROGRAM = 48;
const isBlank = (bytes: Uint8Array) => bytes.every((byte) => byte === bytes[0]);

function bootFinding({ boot, systemBytes }: TargetProfile, head: Uint8Array): Said | null {
  switch (boot) {
    case 'none':
      return null;
    case 'boot-sector': {
      // A jump over the parameters, to something that is there, and the mark at the end (formats
      // page, section 4.1).
      const jumps = head[0] === 0xeb || head[0] === 0xe9;
      const signed = head[510] === 0x55 && head[511] === 0xaa;
      return jumps &&
        signed &&
        head.subarray(62, 510).filter((byte) => byte !== 0).length >= LEAST_PROGRAM
        ? null
        : said('assembly.itsFirstSectorHolds');
    }
    case 'first-track':
      return isBlank(head.subarray(0, 256)) ? said('assembly.itsFirstSectorIs') : null;
    case 'system-tracks':
      return isBlank(head.subarray(0, systemBytes)) ? said('assembly.itsSystemTracksAre') : null;
  }
}

/**
 * What speaks against an image on this family of machines, the gravest first; none where nothing
 * does.
 */
export function checkTarget(
  profile: TargetProfile,
  { layout, bytes, volumes, head }: ToTarget,
): TargetFinding[] {
  const findings: TargetFinding[] = [];
  const stops = (sentence: Said) => findings.push({ weight: 'stops', sentence });
  const beware = (sentence: Said) => findings.push({ weight: 'beware', sentence });
  if (profile.layouts.length > 0) {
    if (!layout) stops(said('assembly.noLayoutIsKnown'));
    else if (!profile.layouts.includes(layout))
      stops(said('assembly.itsDrivesTakeNot', { layouts: profile.layouts.join(' or '), layout }));
  }
  if (volumes.length === 0) stops(said('assembly.noVolumeIsKnown'));
  for (const { filesystem, totalBytes } of volumes) {
    if (!profile.filesystems.includes(filesystem))
      stops(
        said('assembly.itsSystemKnowsNot', {
          filesystems: profile.filesystems.join(' and ').toUpperCase(),
          filesystem: filesystem.toUpperCase(),
        }),
      );
    else if (totalBytes > profile.mostBytes)
      stops(said('assembly.itsSystemTakesVolumes', { mostBytes: profile.mostBytes, totalBytes }));
  }
  if (bytes < BOOT_SECTOR || head.length === 0) stops(said('assembly.theImageIsShorter'));
  const boot = bootFinding(profile, head);
  if (boot) beware(boot);
  return findings;
}

export interface ForMedium {
  layout: {
    id: string;
    forms: readonly MediumForm[];
    cylinders: number;
    heads: number;
    rpm: number;
    rateKbps: number;
    bytes: number;
  } | null;
  imageBytes: number;
  blank: { code: string; form: MediumForm; density: Density | null };
  drive: { form: MediumForm; cylinders: number; heads: number; rpm: number } | null;
}

/** Rate from which on a floppy wants a high-density blank, in kbit/s. */
const HIGH_DENSITY_KBPS = 400;

/** Whether image, blank and drive go together: what can't be, and what should be known. */
export function checkMedium({ layout, imageBytes, blank, drive }: ForMedium): TargetFinding[] {
  const findings: TargetFinding[] = [];
  const stops = (sentence: Said) => findings.push({ weight: 'stops', sentence });
  const beware = (sentence: Said) => findings.push({ weight: 'beware', sentence });
  if (!layout) return [{ weight: 'stops', sentence: said('assembly.noLayoutIsKnownFor') }];
  if (!layout.forms.includes(blank.form))
    stops(
      said('assembly.goesOnDisksIs', {
        id: layout.id,
        forms: layout.forms.map(formName),
        code: blank.code,
        form: formName(blank.form),
      }),
    );
  judgeDrive(drive, blank, stops, layout, beware);
  judgeDensity(layout, blank, beware, stops);
  if (imageBytes < layout.bytes)
    beware(
      said('assembly.theImageHasBytes', {
        imageBytes,
        bytes: layout.bytes,
        bytes2: layout.bytes - imageBytes,
      }),
    );
  if (imageBytes > layout.bytes)
    stops(said('assembly.theImageHasBytesAnd', { imageBytes, id: layout.id, bytes: layout.bytes }));
  return findings;
}

function judgeDrive(
  drive: ForMedium['drive'],
  blank: ForMedium['blank'],
  stops: (sentence: Said) => number,
  layout: NonNullable<ForMedium['layout']>,
  beware: (sentence: Said) => number,
) {
  if (drive) {
    if (drive.form !== blank.form)
      stops(
        said('assembly.isTheDrive', {
          code: blank.code,
          form: formName(blank.form),
          driveForm: formName(drive.form),
        }),
      );
    if (layout.cylinders > drive.cylinders)
      stops(
        said('assembly.hasCylindersTheDrive', {
          id: layout.id,
          cylinders: layout.cylinders,
          cylinders2: drive.cylinders,
        }),
      );
    if (layout.heads > drive.heads) stops(said('assembly.needsBothSidesAnd', { id: layout.id }));
    if (
      drive.cylinders >= layout.cylinders * 2 - 2 &&
      layout.cylinders >= 30 &&
      layout.cylinders <= 44
    )
      beware(said('assembly.theDriveHasTwice', { id: layout.id, cylinders: layout.cylinders }));
    if (Math.abs(drive.rpm / layout.rpm - 1) > 0.02)
      beware(
        said('assembly.theDriveTurnsTimes', { rpm: drive.rpm, id: layout.id, rpm2: layout.rpm }),
      );
  }
}

function judgeDensity(
  layout: NonNullable<ForMedium['layout']>,
  blank: ForMedium['blank'],
  beware: (sentence: Said) => number,
  stops: (sentence: Said) => number,
) {
  const high = layout.rateKbps >= HIGH_DENSITY_KBPS && !layout.forms.includes('8');
  if (blank.density === 'high' && !high)
    beware(said('assembly.isAHighDensity', { code: blank.code, id: layout.id }));
  if (blank.density === 'double' && high)
    stops(said('assembly.isADoubleDensity', { code: blank.code, id: layout.id }));
}
