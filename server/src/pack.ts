// Reading pack files alone: without the database and the web server, which take two seconds to load.
export { readPack } from './knowledge/pack-text.ts';
export { Problem } from './platform/problem.ts';
