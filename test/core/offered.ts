/** What a survey only offers. */
import { type Finding, type Offer, Problem } from '../../src/index.js';

/** The finding, where a component can be written for it. */
export function made(offer: Offer): Finding[] {
  try {
    return [offer.finding()];
  } catch (error) {
    if (error instanceof Problem) return [];
    throw error;
  }
}
