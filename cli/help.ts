export const GENERAL_HELP = `pocket-twin: what is really on each channel, and how to put it right

  pocket-twin inspect FILE... [--json]       what is on each channel, and what to do
  pocket-twin repair  FILE... --out DIR ...  write repaired copies; originals are never touched
  pocket-twin join    FILE FILE... --out FILE  several files of one recording become one
  pocket-twin handoff FILE|FOLDER... --out DIR  a whole shoot into the edit, with receipts and checksums
  pocket-twin verify  DIR                    is what was handed off still what it was?
  pocket-twin token                          the address of the running application, which lets a browser in

Add --help to a command for its options. Many files are worked on by every core
at once; results stand in the order given.
`;

export const INSPECT_HELP = `pocket-twin inspect FILE... [--json]

Says what is on each channel of each file, and what to do.
  --json   one JSON object a line, one line a file, in the order given

Exit status: 0 nothing to do, 1 something found, 2 a file could not be read or
the words of the call are off.
`;

export const REPAIR_HELP = `pocket-twin repair FILE... --out DIR [what to do] [how to write]

What to do, at most one of:
  --fill N         stereo with channel N on both sides
  --select N       channel N alone, as mono
  --swap           left and right change places
  --sum            left and right in equal parts, as mono
  --split          every channel as a mono file of its own
  --auto           what inspect suggests; files without a clear suggestion are left alone
  --route OUT=IN[@DB][+IN[@DB]...]   any input to any output, any number of these;
                   -IN turns a channel over, an output that is not named is silent
  --sections auto|FILE   a plan for each stretch of time: what is found, or what FILE says
  --turns auto|FILE      microphones open in turns: who speaks when, or what FILE says
                   (both FILEs are JSON as --json prints it, corrected by hand)
  --recipe FILE    a repair saved as JSON, used where it fits
Before that, or alone (the channels then stay where they are), any number of:
  --invert N       turn channel N upside down
  --delay N=SAMPLES   make channel N later (negative: earlier)
  --gain N=DB      make channel N louder (negative: softer)
  --balance        lower the louder side until both are even
  --line-up [A,B]  measure how much later one channel is, and let the other wait (1,2)
After that; without them levels are kept:
  --loudness LUFS  --peak DBTP  --ceiling DBTP
  --same-gain      one gain for all files together, so that their relations stay
How to write:
  --out DIR        where the files go
  --format same|wav|flac|aiff   --bits 16|24|32f   --layout mono|stereo|5.1
  --overwrite      replace a file of that name; otherwise the new one gets " (2)"
  --json           a receipt a line

Exit status: 0 all that was asked is written or needs nothing, 1 some files were
left for a person to decide and the rest is written, 2 a file could not be read or
written, or the words of the call are off.
`;

export const JOIN_HELP = `pocket-twin join FILE FILE... --out FILE.wav

Several files of one recording (a left and a right one, or a mono each) become one:
their channels stand in the order of the files, every sample as it was, and the
shorter ones are padded with silence.
  --line-up            measure the offset between the files and undo it
  --offset N=SAMPLES   file N starts so much later than the first (negative: earlier)
  --overwrite          replace a file of that name; otherwise the new one gets " (2)"
  --json               the file, the offsets measured, its frames and what to be warned of

Exit status: 0 it is written, 1 it is written but a file could not be lined up, 2 a
file could not be read or written, or the words of the call are off.
`;

export const HANDOFF_HELP = `pocket-twin handoff FILE|FOLDER... --out DIR

A whole shoot into the edit: files that take the place of the old ones, with the same
name, length and timecode, pictures copied bit for bit. Beside them receipts/ (one a
file), receipt.html to read and print, manifest.sha256 (for sha256sum -c) and
manifest.mhl.
  --auto               do what inspect suggests (it is the way without it); what a person
                       must decide is left, and said
  --recipe FILE        do what a recipe says, where it fits
  --as-is              copy everything as it is
  --edit FILE          also write the edit again (.otio or .edl), pointing to the new files; it is
                       read back and played through against the old one
  --tracks same|repaired   same: as many sound streams and channels as the old file (the way
                       for films, and for all where --edit is given); repaired: as the repair
                       has it, and the edit gets parallel tracks for every further file
  --markers            findings and what was done as markers in the edit, and as markers.csv
  --times              the new files are as old as the recordings (their own times)
  --used-only          only what the edit uses: a file for each used stretch, a picture copied
                       from one that stands alone to another; whole files where nothing is to do
  --handles SECONDS    so much before and after each stretch
  --name PATTERN       {name} {setup} {scene} {take} {role} {channel} {date}
  --format same|wav|flac|aiff   --bits 16|24|32f
  --json               a line a file as repair prints it, with conform; then one for all
A folder that holds an earlier handoff is continued: its receipts, checksums and edits
stay and are of all of it. A call that was cut short goes on when it is made again.

Exit status: 0 all is handed off, 1 some files were left for a person to decide, 2 a
file could not be read or written, or the words of the call are off.
`;

export const VERIFY_HELP = `pocket-twin verify DIR

Is what was handed off still what it was? Every file is held against manifest.sha256.
  --json   a line a file: its path, and whether it is as handed off, changed, missing or
           not named (it lies there and no handoff put it there)

Exit status: 0 all as handed off, 1 something changed or is missing, 2 there is no
manifest there, or it is empty or cut off.
`;

export const TOKEN_HELP = `pocket-twin token

Prints the address of the application that runs here once more, with the token that
lets a browser in. POCKET_TWIN_HOME says which one, where its folder is not the usual.

Exit status: 0 it runs and its address is printed, 2 it does not run here.
`;
