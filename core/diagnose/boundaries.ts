// Every boundary of deciding, once, beside those that measuring shares (core/measure/boundaries.ts). docs/method.md lists them; a test holds the
// two together. A spread is how far the number beside it scatters when it is measured: margins are counted in it.

/** Below this a person decides. */
export const LEAST_CONFIDENCE = 0.93;

// Findings (the contract of the terminal commands).
/** True peak: what lossy coders and converters after us may clip. */
export const HOT_DBTP = -1;
/** Quieter programme than this was recorded far too low. */
export const LOW_LUFS = -40;
/** Of full scale: what makes cuts click. */
export const DC_OFFSET = 0.005;
/** Sides that should be even: the least difference that is heard as off the middle, and where a person should look. */
export const UNBALANCED_LU = 1;
export const UNBALANCED_LOOK_LU = 3;
/** What a phone's one speaker would lose. */
export const MONO_LOSS_DB = 3;
/** Earlier than this no copy is called late: a few samples are a converter's. */
export const LATE_MS = 0.05;

// What a channel carries.
/** A click or a knock on a dead input is shorter than this. */
export const SHORTEST_PROGRAMME_SECONDS = 0.3;
/** A steady sound this loud was recorded on purpose (a river, a tone); open preamplifiers stay under -50 dBFS. */
export const STEADY_PROGRAMME_DBFS = -45;
/** Quieter steady sound is a programme only where it is made of tones that are not the mains. */
export const TONAL_SHARE = 0.5;
export const QUIETEST_TONE_DBFS = -80;
/** Speech falls back this far between phrases, often; music and ambience do not. */
export const PAUSE_DB = 20;
export const LEAST_PAUSE_SHARE = 0.06;
/** Where a gate or an editor left pauses of nothing, what lies within 30 dB of the loud parts is active. */
export const GATED_SHARE = 0.15;
export const GATED_RANGE_DB = 30;

// One side alone.
export const RATIO_SPREAD_DB = 2.5;
/** A plug that is pulled, a knock on the table: no longer in all, and no larger a share. It may be a word as well, so a person looks. */
export const BRIEF_SECONDS = 1.5;
export const BRIEF_SHARE = 0.1;
/** Ambience is at most this much louder on one side; a preamplifier's hiss lies further below it. */
export const STEADY_APART_DB = 15;

/** A side that is no noise of its own holds the other's sound: so clear an arrival, and so much of the whitened sound. */
export const SURELY_SHARED_PROMINENCE = 15;
export const SURELY_SHARED_HEIGHT = 0.1;
/** Or less than this of it agrees on nothing, over the hum that two inputs may share: of noise and a voice it is all but a few hundredths. */
export const SHARED_INCOHERENT = 0.8;
export const SHARED_HZ = { from: 300, below: 6000 };

// One signal on both sides.
export const NULL_SPREAD_DB = 3;
/** Where coders left more of a difference than this, a person looks: a narrow mix differs in its treble as well. */
export const SURELY_CODED_NULL_DB = -34;
/**
 * What is left of a narrow mix is programme, which the sum foretells: to a tenth and more, and noise to a twentieth at most. It is under the
 * boundary, so it is one signal by the word; but a person looks before anything is thrown away.
 */
export const PROGRAMME_COHERENCE = 0.08;
/** Between the softest and the loudest tenth of the blocks: noise moves by less, what somebody plays by more. */
export const NO_NOISE_MOVES_DB = 4;
/** Instruments that are panned apart and play different notes look like a filter, too: then a person looks. */
export const MIX_NULL_DB = -40;
/** A filter that leaves the sides nearly the same may as well be what little a narrow mix has on its sides, unless nothing at all is left of it. */
export const SLIGHT_FILTER_NULL_DB = -24;
export const SURELY_FILTERED_NULL_DB = -60;
/** A distant microphone in a dry room is foretold by a near one almost as well as a coded disguise. */
export const DISTANT_NULL_DB = -24;
export const DISTANT_MS = 0.55;
/** ... where its sides hear their pauses this far apart, halfway to two microphones. */
export const DISTANT_SCORE = 0.5;
/**
 * What a coder adds follows the voice and leaves no more of what dies away than of what sets in: of 60 copies coded at 48 to 192 kbit/s, on devices of their own as
 * well, 2.9 dB more at most where they null to -20 dB, 4.5 and seldom more where deeper, as less is left of anything. A room goes on, and leaves 3 to 19 dB more in
 * 90 pairs of microphones.
 */
export const ROOM_DYING_DB = 3.2;
export const DEEP_ROOM_DYING_DB = 4.8;
/** So little, and it is no room, whatever else is said of it. */
export const CODER_DYING_DB = 2.5;
/**
 * Between them: a coder spends its bits where the voice is loud, and leaves up to 1 kHz this much less that disagrees than above; microphones coded at 64 kbit/s
 * 2.5 dB at most, for a room takes its share of all of it, but for a voice that holds its pitch long (7 dB).
 */
export const CODED_COPY_APART_DB = 3;
/**
 * Or it comes later than any microphone that still hears so much of the voice itself: as much as if no room began before 18 m (of 400 near and far or close
 * microphones none comes nearer to it than 1.5 dB), and three metres further off this.
 */
export const NEAR_METRES = 0.2;
export const DRIEST_METRES = 18;
export const LATE_COPY_MS = 9;
export const LATE_COPY_NULL_DB = -10;
export const CLEAR_COPY_PROMINENCE = 22;
/**
 * Or it holds nothing but a band of the other: of nine that were coded at 64 and 96 kbit/s a tenth at most disagrees within it up to 1 kHz; of two microphones
 * or a pair of which one side is the narrower (12 of 420) 0.39 and more.
 */
export const CODED_BAND_INCOHERENT = 0.12;
/** Sooner than this the sides of a mix are coded like that as well. */
export const SOONEST_COPY_MS = 0.3;
/** Of what a room leaves between two close microphones as much lies in the voice's own part of the spectrum as above (within 1.7 dB in 22 of them) ... */
export const ROOM_APART_DB = 1.8;
/** ... and each has noise of its own: so much of the pauses is none of the other's. */
export const OWN_NOISE = 0.1;
/** Where more than this of a moment is none of the other side's, somebody else is heard: what copies leave of their least alike moments is nothing, a guest 0.8. */
export const OF_ITS_OWN = 0.3;
/** What counts as part of a disguise. */
export const LEVEL_DB = 0.5;
export const DELAY_SAMPLES = 0.5;
/** A filter is part of the disguise where undoing it deepens the null by this much and the rest did not do. */
export const FILTER_GAIN_DB = 8;
export const FILTER_NULL_DB = -38;

// Two microphones.
/**
 * The share of two unrelated voices that no filter foretells. Where levels do not swing it is so much more: a wide pair far off in a room that lives comes to
 * 0.93, but hears all talkers about as loud (of 28 pairs with 0.8 and more half the swing was 2 dB at most, of 20 of two microphones with 0.85 and more 3.9 at least).
 * Two who talk at once, in nothing of each other, come to 0.96 and more.
 */
export const UNRELATED_INCOHERENT = 0.85;
export const UNSWUNG_INCOHERENT = 0.1;
export const INCOHERENT_SPREAD = 0.03;
/** An arrival is clear over `CLEAR_ARRIVAL`; below this it may be chance, which reaches five deviations. */
export const ARRIVAL_BY_CHANCE = 6;
/** The sound's way between the microphones of a pair: a metre and a half on one bar, and a little that is not known better. */
export const PAIR_REACH_MS = 4.6;
/**
 * So much further over the pauses does speech stand at the nearer of two microphones on one talker: 3 dB and more, where the capsules of a pair
 * differ by 3 at most. Floors further apart than a pair's two inputs count a little less: two inputs that should be set alike may not be.
 */
export const NEAR_FAR_DB = 4;
export const PAIR_FLOORS_DB = 1.5;
export const FLOORS_WEIGHT = 0.8;
/** With no arrival that stands out the difference must be this much larger. */
export const BLURRED_SHARE = 0.7;
/** Of microphones that hear it nearly at once a level difference says nothing: 7 cm, and 19 cm, as sound goes. */
export const COINCIDENT_MS = 0.2;
export const SURELY_APART_MS = 0.55;
/**
 * No pair stands nearer to who speaks than an arm's length: of 400 pairs from 0.8 m on none that hears a voice 0.8 ms apart came out nearer than 0.63 m, of 100
 * close microphones half did. Cardioids on one stand, up to 30 cm and 0.55 ms apart, hear who sits to one hand more directly as well: it counts from there on, and fully where no stand is so wide.
 */
export const NEAREST_PAIR_METRES = 0.6;
export const SURELY_WIDER_MS = 0.8;
/** How far a voice stands over what two sides so far apart do not share of a room: of 480 pairs 7.5 dB at most (15 where they are 0.65 ms apart), of 60 microphones on one mouth half 12 and more. */
export const NEAREST_PAIR_DRY_DB = 12;
/**
 * Half the swing in level between talkers that a pair may have, by half its swing in time. Cardioids on one stand, up to 30 cm apart, swing by 0.72 ms at most
 * and by 9.4 dB; two people with a microphone each by 0.9 ms and more.
 */
export const STAND_SWING_DB = 11;
export const STAND_SWING_MS = 0.75;
export const BAR_SWING_MS = 0.95;
/**
 * Further apart a pair hears all talkers from about as far, and directly, while a microphone hears the other one's talker by the room: a swing of so much where
 * this share of the sides agrees on nothing, and of more where they agree on more, within limits.
 */
export const BAR_SWING_DB = 4.9;
export const BAR_INCOHERENT = 0.75;
export const SWING_OF_LIKENESS_DB = 10;
export const MOST_BAR_SWING_DB = 8;
export const LEAST_SWING_DB = 4;
/** Where one of two talkers is too faint at the other's microphone to be placed, so much swing and so late an arrival of the other one tell. */
export const LEAST_FAR_SWING_DB = 5;
export const FAR_TURN_MS = 1.9;
/** With no swing in time the sides were mixed or coincide; then only a swing that no pair has means separate microphones. */
export const LEAST_SWING_MS = 0.25;
export const PANNED_SWING_DB = 20;
/** Where nothing of one side is found on the other. */
export const UNRELATED_SWING_DB = 9.5;
/**
 * What is heard at one place, or mixed, is mostly the same way up on both sides. Where left less right is so far over left plus right, most of it is upside
 * down on one: a side that was turned over, or sum and difference of a mix that is mostly to the right. They are the same sound.
 */
export const TURNED_OVER_NULL_DB = 3;

// Middle and side.
/** So many stretches tell where their sound comes from, and this share of all of them: fewer may be chance. */
export const LEAST_PLACED = 4;
export const PLACED_SHARE = 0.25;
/** Of those, the share that comes to both sides at once, to a decimetre of sound's way: the two capsules stand at one place. */
export const MOSTLY_AT_ONCE = 0.6;
export const AT_ONCE_MS = 0.1;
/** Sounds from one hand come upright, from the other upside down: so many stretches of each. A capsule that faces people turns nothing. */
export const LEAST_TURNED = 3;
/** Or this share of all that comes at once is turned, and one side is so much louder; a coincident pair turns up to 0.23. */
export const TURNED_SHARE = 0.25;
export const MIDDLE_LOUDER_DB = 2;
/** Or as much as this share of what chance turns of sounds that don't come at once, and a sixteenth at least, with one side much louder: a coincident pair stays under 0.6. */
export const CHANCE_SHARE = 0.7;
export const LEAST_TURNED_SHARE = 0.06;
/** Where all of it is turned one side may just be upside down, unless its pauses agree on less than two capsules at one place do, and one is much louder. */
export const NEARLY_ALL = 0.85;
export const UNLIKE_PAUSES = 0.2;
export const MIDDLE_MUCH_LOUDER_DB = 4;
/** However it was turned over, cardioids at one place hear no one further apart than this in level: 9 dB at right angles and more. */
export const MOST_PAIR_DB = 10;
/** What leans in a coincident pair or a mix is on both sides to this share and more (0.54 was the least of 130), in middle and side to 0.45 in a live room. */
export const LEAST_LEANING_HEIGHT = 0.48;
/** How far an arrival of the other polarity stands out of the rest: by 5 deviations at most of 130 near and far, close and two talkers' microphones. */
export const OTHER_WAY_PROMINENCE = 6;
/** With hardly a stretch placed and one side this much softer it may be the side of a middle, which hears the room; 35 such pairs were 2.3 dB apart at most. */
export const ROOM_SOFTER_DB = 2.5;
export const LEAST_LOOKED_AT = 8;
/**
 * So much of what dies away do two sides hear alike that are none of middle and side: of 88 pairs and mixes those whose rooms were 2 dB apart came to 0.59
 * and more, of 43 in middle and side a talker to 0.47 at most.
 */
export const MOST_ROOM_AGREEMENT = 0.53;
/** With no pauses to tell, nobody has turned a side over that is so much softer as well. */
export const MIDDLE_FAR_LOUDER_DB = 6;

/** What a doubtful peak can bring the score to at most: near two microphones, and not there. */
export const ALMOST = 0.85;
/** How the score spreads, as a ratio. */
export const SCORE_SPREAD = 0.35;
/**
 * Here it is as often two microphones as a pair: of 6,000 clips 15 of the 39 called a pair closer to 1 than 0.87 were one, and 56 of the 62 called two microphones
 * as close. In doubt it is left a pair, as of a hundred pairs one at most may be called two microphones.
 */
export const EVEN_SCORE = 0.93;

// Parts of a clip.
/** Shorter segments need all the blocks they have, those beside a boundary as well. */
export const LEAST_TRIMMED_BLOCKS = 10;
/** Noise is known to about this much from a few seconds. */
export const SAME_NOISE_DB = 2.5;
/** The share of the quietest blocks that tell of a side's noise. */
export const QUIETEST_SHARE = 0.05;
/** Where somebody pauses, this share of the blocks is as quiet as the quietest. */
export const PAUSE_SHARE = 0.1;
/** Between the quiet and the loud blocks of noise; bleed as loud as the noise adds three decibels. */
export const STEADY_NOISE_DB = 1.5;

// Margins that are given where no number decides.
export const CERTAIN_MARGIN = 5;
export const CODED_MARGIN = 0.9;
export const DOUBTFUL_MARGIN = 0.78;
export const UNDECIDED_MARGIN = 0.2;
/** One talker heard by a pair or by two microphones a hand apart: of 94 such clips 90 were right. */
export const ONE_PLACE_MARGIN = 1;
/** What is over a boundary at all is surer than what is just below it. */
export const OVER_MARGIN = 0.4;
