import { SAID, pack as packSchema, type Pack } from '@crosspeen/contract';
import { findNodeAtLocation, parseTree, printParseErrorCode, type ParseError } from 'jsonc-parser';
import { Problem } from '../platform/problem.ts';

const MOST_REASONS = 30;
/** No pack is nested deeper; what is, is no pack, and following it would exhaust the stack. */
const MOST_DEPTH = 32;

/** The line of an offset in a text, from 1. */
function lineOf(text: string, offset: number): number {
  let line = 1;
  for (let at = text.indexOf('\n'); at !== -1 && at < offset; at = text.indexOf('\n', at + 1)) line += 1;
  return line;
}

/** Offset of the first bracket that is nested deeper than `most`, outside of strings; -1 where none is. */
export function deeperThan(text: string, most: number): number {
  let depth = 0;
  let inString = false;
  for (let i = 0; i < text.length; i += 1) {
    const code = text.charCodeAt(i);
    if (inString) {
      if (code === 92) i += 1;
      else if (code === 34) inString = false;
    } else if (code === 34) inString = true;
    else if (code === 123 || code === 91) {
      depth += 1;
      if (depth > most) return i;
    } else if (code === 125 || code === 93) depth -= 1;
  }
  return -1;
}

/** What is wrong with a text that is no JSON, in words, by the parser's own names. */
const SYNTAX_WORDS: Readonly<Record<string, string>> = {
  InvalidSymbol: 'a word stands here that is no value; put text in quotation marks',
  InvalidNumberFormat: 'this is no number',
  PropertyNameExpected: 'the name of a field is missing, in quotation marks',
  ValueExpected: 'a value is missing, or a comma is too many',
  ColonExpected: 'a colon is missing after the name of the field',
  CommaExpected: 'a comma is missing',
  CloseBraceExpected: 'a closing brace } is missing',
  CloseBracketExpected: 'a closing bracket ] is missing',
  EndOfFileExpected: 'something stands after the end of the pack',
  InvalidCommentToken: 'comments cannot be used here; take it out',
  UnexpectedEndOfComment: 'comments cannot be used here; take it out',
  UnexpectedEndOfString: 'a quotation mark is opened and never closed',
  UnexpectedEndOfNumber: 'this is no number',
  InvalidUnicode: 'the character after \\u is not written as four digits',
  InvalidEscapeCharacter: 'this cannot stand after a backslash',
  InvalidCharacter: 'a character stands here that cannot be kept; take it out',
};

function notJson(text: string): Problem {
  const faults: ParseError[] = [];
  parseTree(text, faults, { disallowComments: true, allowTrailingComma: false });
  const places = faults.length > 0 ? faults : [{ error: 0, offset: 0, length: 0 }];
  return new Problem(SAID.noJson, {
    fields: places.slice(0, MOST_REASONS).map(({ error, offset }) => {
      const near = text.slice(offset, offset + 20).split('\n')[0]!;
      return {
        path: `line ${lineOf(text, offset)}`,
        message: `${SYNTAX_WORDS[printParseErrorCode(error)] ?? 'this cannot be read as JSON'}${near === '' ? '' : `, near “${near}”`}`,
      };
    }),
  });
}

/**
 * Reads a pack from a file's text. Throws bad_file with the line of every fault and its mend; nothing is understood
 * half.
 */
export function readPack(text: string): Pack {
  const deep = deeperThan(text, MOST_DEPTH);
  if (deep >= 0) {
    const message = `brackets are nested more than ${MOST_DEPTH} deep; no pack is`;
    throw new Problem(SAID.noPack, { fields: [{ path: `line ${lineOf(text, deep)}`, message }] });
  }
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    throw notJson(text);
  }
  const checked = packSchema.safeParse(json);
  if (checked.success) return checked.data;
  // Only now, when something is wrong, is the text gone through again for its lines.
  const tree = parseTree(text)!;
  const place = (path: readonly PropertyKey[]): number => {
    for (let length = path.length; length >= 0; length -= 1) {
      const node = findNodeAtLocation(tree, path.slice(0, length) as (string | number)[]);
      if (node) return lineOf(text, node.offset);
    }
    return 1;
  };
  const { issues } = checked.error;
  throw new Problem(SAID.invalidPack(issues.length), {
    fields: issues
      .slice(0, MOST_REASONS)
      .map(({ path, message }) => ({
        path: `line ${place(path)}, ${path.map(String).join('.') || 'whole file'}`,
        message,
      })),
  });
}
