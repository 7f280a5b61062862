export { answerLine } from './answer-line.ts';
