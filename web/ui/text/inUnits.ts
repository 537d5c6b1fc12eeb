import { eventSentence } from '../../../core/events/sentence.ts';
import { withLengths } from '../../../core/units/lengthText.ts';
import { alongText, sideText, sizeText } from './lengths.ts';

/** A sentence of the server or of `core` with its lengths in the unit, and as this person writes numbers. */
export function inUnits(text: string): string {
  return withLengths(text, ([first = 0, second], along) => {
    if (second !== undefined) return sizeText(first, second);
    return along ? alongText(first) : sideText(first);
  });
}

/** The sentence of a row of the log. */
export function eventText(event: Parameters<typeof eventSentence>[0]): string {
  return inUnits(eventSentence(event, alongText));
}
