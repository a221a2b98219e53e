/** The place where stand-in guests enter. */
export { StandInDevices } from '../../../standins/guest/devices.ts';
export { GUEST_FAULTS, STAND_IN_GUESTS, type GuestFault, type StandInGuest } from '../../../standins/guest/guests.ts';
