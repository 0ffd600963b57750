/** What the command line can do, as it is shown without a command or with a wrong one. */
export const usage = `Usage:
  spindle decode CAPTURE.fsflux … [--json FILE|-] [--image FILE] [--sidecar FILE] [--keep-doubtful]
                 [--layout ID|FILE] [--passes N|FROM-TO] [--to KIND] [--status] [--propose FILE]
      Decodes a flux capture, or several of one disk together: sectors with grades, the flat image, its sidecar.
  spindle encode IMAGE --layout ID|FILE --out FILE.fsflux [--revolutions N] [--as KIND]
      Lays an image out as the flux that a perfect drive would read of it.
  spindle convert SOURCE … --to KIND [--out FILE|FOLDER] [--as KIND] [--layout ID|FILE] [--status] [--accept-loss]
      Turns images, captures or folders of them into another kind: img, dsk, d64, d71, d81, do, po, fsflux.
  spindle compare A B [--json FILE|-] [--layout ID|FILE]
      What differs between two captures or images, sector by sector.
  spindle layouts [ID|FILE] [--json FILE|-] [--check FILE] [--from CAPTURE]
      Lists the layouts that ship; gives one as JSON, checks a file, or works one out from a capture.
  spindle contents IMAGE [--json FILE|-] [--extract DIR] [--text] [--layout FILE] [--inside PATH]
      Lists the volumes and files of a flat image; takes the files out into DIR, with --text beside each that can be
      read the same in UTF-8. FILE is a CP/M disk parameter set; PATH a file on it that is itself an image.
  spindle identify PATH … [--json FILE|-]
      What each file, or every file of a folder, is by its content: what speaks for it, and what it might be instead.
  spindle index PATH … [--csv FILE|-] [--json FILE|-]
      One list of all files on many images and captures: where each is, its size, date and digest.
  spindle scan PATH … --rules FILE [--json FILE|-]
      Holds images and their files against signature rules: boot sectors, and all of it. Ends with 3
      where one was found.
  spindle disc IMAGE|SHEET.cue [--json FILE|-] [--flags FILE] [--also IMAGE] [--repair OUT] [--sound FOLDER] [--raw OUT]
      Tracks of a raw disc image, and which of its sectors are good, mendable and lost; writes it with the mended ones
      and a cue sheet beside it, its tracks of sound as WAV, or an image of 2,048-byte sectors as a raw one.
      The flags are 294 bytes a sector, a bit for each byte that the drive distrusts. With --also another reading, or
      another damaged copy: what none gives alone is put together; --flags once more for the flags of each, in order.
  spindle sound IMAGE [--json FILE|-] [--out DIR [--flac]] [--rate HZ]
      Lists the samples and programs of a sampler volume or a wavesample floppy; writes them into DIR as WAV and SFZ.
      With --flac the WAVs are packed without loss; flac -d --keep-foreign-metadata gives each back as it was.
  spindle sound IMAGE --put FILE.wav --bank "lower 1" [--wave N] [--rate HZ] --to OUT.img
      Puts a sound into a bank of a wavesample floppy, behind its waves or in the place of one.
  spindle sound IMAGE --put FILE.wav --volume "A/FOG SIGNALS" [--name "HORN LOW"] --to OUT.img
      Puts a sound into a volume of a sampler disk as a sample, new or in the place of the one of that name.
  spindle extents IMAGE|CARD.json [--json FILE|-]
      What every block of an image of a device is, by the sidecar beside it, and which files the unsound ones touch.
  spindle extents DEVICE|FILE --read --out IMAGE [--from BLOCK] [--to BLOCK] [--block BYTES] [--tries N]
      Reads a device, the easy parts first; called again it goes on where it was broken off.
  spindle extents IMAGE … --merge --out IMAGE
      Puts damaged copies of one disk together: each block from a copy that has it sound.
  spindle pack IMAGE [--out FILE] | spindle pack PATH … --try
      Packs an image so that it is read where it lies and any gunzip unpacks it; or says what packing would save.
  spindle unpack FILE.gz [--out FILE]
      Unpacks it, and holds the result against the digest that was packed with it.
  spindle serve IMAGE … [--port N]
      Opens images as folders of any desktop, through WebDAV on this computer (RFC 4918, read-only): the image, its
      partitions, volumes and files with their dates, its sounds as WAV, and a table of the recorded names.
  spindle scan IMAGE --strings [LEAST] | --find '"text"'|HEX
      Runs of printable characters in an image; or every place of a text, or of bytes with ?? for any.
`;
