/** The one place where stand-in sources enter the engine. */
export { openStandIn } from '../../standins/venue/open.ts';
