/** Messages that travel as a file, in a chunk of its own. */
export { GivePage } from './GivePage';
export { loadCarriedWords } from './words';
