/** English. */
export { access, agentWords, auditWords } from './access.ts';
export { roleHints, roleList, roleNames } from './roles.ts';
export { actions } from './actions.ts';
export { certificate } from './certificate.ts';
export { clips } from './clips.ts';
export { delivery } from './delivery.ts';
export { desk } from './desk.ts';
export { guest, pictureAdviceWords, voiceAdviceWords } from './guest.ts';
export { kinds } from './kinds.ts';
export {
	machine,
	machineGuests,
	machineParts,
	machinePrice,
	machineSummary,
	machineVerdict,
	pictureName,
} from './machine.ts';
export { media } from './media.ts';
export { hosts } from './hosts.ts';
export { mix } from './mix.ts';
export { network } from './network.ts';
export { nodes } from './nodes.ts';
export { watch } from './watch.ts';
export { overlays } from './overlays.ts';
export { pictures } from './pictures.ts';
export { plan } from './plan.ts';
export { prepare } from './prepare.ts';
export { recordings } from './recordings.ts';
export { rehearsal } from './rehearsal.ts';
export { report } from './report.ts';
export { runsheet } from './runsheet.ts';
export { scenes } from './scenes.ts';
export { sheet } from './sheet.ts';
export { show } from './show.ts';
export { guideWords } from './guide.ts';
export { hall, singing } from './singing.ts';
export { songs, wordsProblemWords } from './songs.ts';
export { sources } from './sources.ts';
export { takes } from './takes.ts';
export { troubles } from './troubles.ts';
export { ui } from './ui.ts';
export { sendFaultWords } from './delivery-faults.ts';
export { logLine } from './log.ts';
export { wordsFor } from './alarms.ts';
export { troubleWords } from './engine-faults.ts';
export { addressWords, fieldWords, refusalWords } from './refusals.ts';
export { faultShort, faultWords } from './source-faults.ts';
export { bytesOf, clockOf, durationOf, rateOf, timeOf } from './figures.ts';
export { pages } from './pages.ts';
export { deliveryReason, deliveryWarning } from './delivery-plan.ts';
export { delayAdvice } from './lip-sync-advice.ts';
export { actionNames, macroName, orderLabel, standWord, subjectNames, switchNames } from './orders.ts';
export { check, checkWords, mendWords } from './check.ts';
export { conflictWords } from './conflicts.ts';
export { crew } from './crew.ts';
export { panelEditor } from './panel-editor.ts';
export { panels } from './panels.ts';
export { tally } from './tally.ts';
export { surface } from './surface.ts';
