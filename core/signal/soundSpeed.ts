/** In air, at about 20 degrees. */
export const SOUND_METRES_PER_SECOND = 343;
