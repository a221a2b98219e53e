/** The one place where stand-in sources enter the engine. */
export { breakInput, type ConsoleFault } from '../../../standins/venue/faults.ts';
export { openStandIn, STAND_INS } from '../../../standins/venue/open.ts';
