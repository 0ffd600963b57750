/** What the core says of its own accord, by the folder that says it: assembly. */
import { grouped } from '@/core/text/grouped';

export const assembly = {
  putInFrom: ({ path, from }: { path: string; from: string }) => `${path} put in, from ${from}`,
  takenOff: ({ path }: { path: string }) => `${path} taken off`,
  renamedTo: ({ path, name }: { path: string; name: string }) => `${path} renamed to ${name}`,
  folderMade: ({ path }: { path: string }) => `folder ${path} made`,
  locked: 'locked',
  unlocked: 'unlocked',
  attributes: ({ path, changes }: { path: string; changes: string[] }) =>
    `${path} ${changes.join(', ')}`,
  made: ({ type }: { type: string }) => `made ${type}`,
  dated: ({ modified }: { modified: string }) => `dated ${modified}`,
  thisSystemKeepsNo: ({ attributeWord }: { attributeWord: string }) =>
    `This system keeps no ${attributeWord} of a file.`,
  noVolumeThatCan: 'No volume that can be written is known in this image.',
  itsFirstSectorHolds:
    'Its first sector holds no program that starts the machine: it can be read there, not started from.',
  itsFirstSectorIs: 'Its first sector is empty: it can be read there, not started from.',
  itsSystemTracksAre: 'Its system tracks are empty: it can be read there, not started from.',
  noLayoutIsKnown:
    "No layout is known for this image, so it can't be said that the drive of this machine takes it.",
  itsDrivesTakeNot: ({ layouts, layout }: { layouts: string; layout: string }) =>
    `Its drives take ${layouts}, not ${layout}.`,
  noVolumeIsKnown: 'No volume is known on this image: the machine finds no files on it.',
  itsSystemKnowsNot: ({ filesystems, filesystem }: { filesystems: string; filesystem: string }) =>
    `Its system knows ${filesystems}, not ${filesystem}.`,
  itsSystemTakesVolumes: ({ mostBytes, totalBytes }: { mostBytes: number; totalBytes: number }) =>
    `Its system takes volumes of at most ${grouped(mostBytes)} bytes; this one ` +
    `has ${grouped(totalBytes)}.`,
  theImageIsShorter: 'The image is shorter than a sector.',
  noLayoutIsKnownFor: "No layout is known for this image, so it can't be laid out on a disk.",
  goesOnDisksIs: ({
    id,
    forms,
    code,
    form,
  }: {
    id: string;
    forms: string[];
    code: string;
    form: string;
  }) => `${id} goes on ${forms.join(' or ')} disks; ${code} is ${form}.`,
  isTheDrive: ({ code, form, driveForm }: { code: string; form: string; driveForm: string }) =>
    `${code} is ${form}, the drive ${driveForm}.`,
  hasCylindersTheDrive: ({
    id,
    cylinders,
    cylinders2,
  }: {
    id: string;
    cylinders: number;
    cylinders2: number;
  }) => `${id} has ${cylinders} cylinders, the drive ${cylinders2}.`,
  needsBothSidesAnd: ({ id }: { id: string }) =>
    `${id} needs both sides, and the drive has one head.`,
  theDriveHasTwice: ({ id, cylinders }: { id: string; cylinders: number }) =>
    `The drive has twice the cylinders of ${id}: its tracks are half as wide, and a drive ` +
    `of ${cylinders} cylinders may still see what was there before. A blank that was never ` +
    `written, or a drive of ${cylinders} cylinders, is safer.`,
  theDriveTurnsTimes: ({ rpm, id, rpm2 }: { rpm: number; id: string; rpm2: number }) =>
    `The drive turns ${rpm} times a minute and ${id} was made at ${rpm2}: cells are laid ` +
    'down shorter or longer to make up for it.',
  isAHighDensity: ({ code, id }: { code: string; id: string }) =>
    `${code} is a high-density blank, and ${id} is written at a lower density: other ` +
    'drives may not read it for long. Use a double-density blank where there is one.',
  isADoubleDensity: ({ code, id }: { code: string; id: string }) =>
    `${code} is a double-density blank: ${id} does not hold on it. Use a high-density one.`,
  theImageHasBytes: ({
    imageBytes,
    bytes,
    bytes2,
  }: {
    imageBytes: number;
    bytes: number;
    bytes2: number;
  }) =>
    `The image has ${grouped(imageBytes)} bytes and the layout holds ` +
    `${grouped(bytes)}: the last ${grouped(bytes2)} are filled ` +
    'with zeros.',
  theImageHasBytesAnd: ({
    imageBytes,
    id,
    bytes,
  }: {
    imageBytes: number;
    id: string;
    bytes: number;
  }) => `The image has ${grouped(imageBytes)} bytes, and ${id} holds ${grouped(bytes)}.`,
  typeWord: 'type',
  dateWord: 'date',
  lockWord: 'lock',
  addressWord: 'address',
};
