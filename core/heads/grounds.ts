/** Bare media against which ink shows: light for most, dark for white and clear. */
export const LIGHT_GROUND = '#FFFFFF';
export const DARK_GROUND = '#26221E';
