// passes on what another module has
export { calls, take } from './exportedCalls.mjs';
