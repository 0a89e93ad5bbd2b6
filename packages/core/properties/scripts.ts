/**
 * Scripts whose letters the families for looks have not, by the files that have them (`stage/fonts.json`), in the order in which a letter
 * is looked for: what is common to Japanese, Korean and Chinese is written as in the language of the text.
 */
export const SCRIPTS = {
  arabic: /[\u0600-\u06ff\u0750-\u077f\u08a0-\u08ff\ufb50-\ufdff\ufe70-\ufeff]/u,
  hebrew: /[\u0590-\u05ff\ufb1d-\ufb4f]/u,
  thai: /\p{Script=Thai}/u,
  lao: /\p{Script=Lao}/u,
  khmer: /\p{Script=Khmer}/u,
  myanmar: /\p{Script=Myanmar}/u,
  bengali: /\p{Script=Bengali}/u,
  gurmukhi: /\p{Script=Gurmukhi}/u,
  gujarati: /\p{Script=Gujarati}/u,
  tamil: /\p{Script=Tamil}/u,
  telugu: /\p{Script=Telugu}/u,
  kannada: /\p{Script=Kannada}/u,
  malayalam: /\p{Script=Malayalam}/u,
  sinhala: /\p{Script=Sinhala}/u,
  georgian: /\p{Script=Georgian}/u,
  armenian: /\p{Script=Armenian}/u,
  ethiopic: /\p{Script=Ethiopic}/u,
  // Lines and blocks are in no smaller file.
  japanese: /[\p{Script=Hiragana}\p{Script=Katakana}\u2500-\u259f]/u,
  korean: /\p{Script=Hangul}/u,
  chinese: /[\p{Script=Han}\p{Script=Bopomofo}\u3000-\u303f\uff00-\uffef]/u,
} as const satisfies Record<string, RegExp>;

/** Whether a letter is in a file of its script. */
export const hasScript = (letter: string): boolean => Object.values(SCRIPTS).some((script) => script.test(letter));

/** What the families have, or the files of other letters and of signs. */
const ELSEWHERE = /[\p{Script=Latin}\p{Script=Greek}\p{Script=Cyrillic}\p{Script=Devanagari}\p{Script=Common}\p{Script=Inherited}]/u;

/** The letters of a text that no file has, each once: drawn, they are empty boxes. */
export const lettersWithout = (text: string): string[] => [
  ...new Set([...text].filter((letter) => /[\p{L}\p{N}]/u.test(letter) && !ELSEWHERE.test(letter) && !hasScript(letter))),
];

/** Some letters as they are told to a person, the first few of them. */
export const sayLetters = (letters: readonly string[]): string => letters.slice(0, 8).join(' ') + (letters.length > 8 ? ' …' : '');

/** Letters that stand for a syllable or a word. */
const SYLLABLES = /[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Hangul}]/u;

/** How many letters of a text stand for a syllable or a word each. */
export const syllablesIn = (text: string): number => [...text].filter((letter) => SYLLABLES.test(letter)).length;

/** How much there is to read in a text, in letters: marks on letters and what is between words count for nothing, syllables twice. */
export const lettersToRead = (text: string): number =>
  [...text].filter((letter) => !/[\p{M}\p{Cf}\s·]/u.test(letter)).length + syllablesIn(text);

/** Letters that are written without spaces between words, and the signs that go with them: a line may end after each. */
const CLOSE = /[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Bopomofo}\u3001-\u3003\u3008-\u301f\uff01-\uff60]/u;

/** What no line begins with, and what none ends with (JIS X 4051, line breaking). */
const NEVER_FIRST = /[\p{Pe}\p{Pf}\p{M}、。，．・：；？！!?.,:;…‥ー～々〻ヽヾゝゞぁぃぅぇぉっゃゅょゎァィゥェォッャュョヮヵヶ]/u;
const NEVER_LAST = /[\p{Ps}\p{Pi}]/u;

/** A word in parts, after each of which a line may end: where letters are written without spaces, between them. */
export function chunksOf(word: string): string[] {
  if (!CLOSE.test(word)) return [word];
  const chunks: string[] = [];
  let before = '';
  for (const letter of word) {
    const parted = (CLOSE.test(before) || CLOSE.test(letter)) && !NEVER_FIRST.test(letter) && !NEVER_LAST.test(before);
    if (parted || chunks.length === 0) chunks.push(letter);
    else chunks[chunks.length - 1] += letter;
    before = letter;
  }
  return chunks;
}
