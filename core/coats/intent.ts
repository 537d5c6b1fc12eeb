/** How colours that a printer can't print are brought to those that it can. */
export const INTENTS = ['perceptual', 'relative', 'relative with black point', 'saturation', 'absolute'] as const;
export type Intent = (typeof INTENTS)[number];
