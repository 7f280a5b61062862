import './issue-words.ts';

export {
  answer, type Answer, answerRow, type AnswerRow, engineSummary, type EngineSummary, engineVariant, lookupAnswer, type LookupAnswer,
  lookupMeaning, type LookupMeaning, lookupQuery, openQuestion, questions, why, type WireQuestion, type WireWhy,
} from './answer.ts';
export { benchDetail, type BenchDetail, benchListQuery, type BenchPart, benchPart, benchRow, type BenchRow } from './bench.ts';
export {
  anyText, authorityId, changeId, type ChangeId, distanceKm, MOST_KM, MOST_SERIAL, distanceUnit, familyId, isoDate, noticeId, optionalText, paged, paging, readingUnit, rowVersion, shortText, variantId,
  vehicleId, type VehicleId, visitId, type VisitId, weakPointId, type WeakPointId,
} from './common.ts';
export {
  ERROR_CODES, type ErrorCode, ERRORS, problemDetails, type ProblemDetails,
} from './errors.ts';
export { issueWords } from './issue-words.ts';
export { fleetProgress, type FleetProgress } from './fleet.ts';
export { libraryPack, type LibraryPack, MOST_PACK_BYTES, PACK_CHOICES, packChoice, type PackChoice, packDiffRow, type PackDiffRow, packImport, packPreview, type PackPreview } from './packing.ts';
export { INTAKE_COLUMNS, INTAKE_KINDS, type IntakeFormats, intakeFormats, type IntakeKind, intakeKind, type IntakePreview, intakePreview, type IntakeRun, intakeRun, intakeStart, MOST_SHEET_BYTES } from './intake.ts';
export { knownPairs, knownText, type KnownPair } from './know.ts';
export {
  CALL_OUTCOMES, type CallOutcome, campaignQuery, campaignRow, type CampaignRow, libraryChange, type LibraryChange, libraryChangeQuery, libraryComponent, libraryFamily, type LibraryFamily, libraryFamilyRow, type LibraryFamilyRow, type LibraryOperation, libraryPoint,
  type LibraryPoint, libraryPointQuery, libraryPointRow, type LibraryPointRow, libraryAuthority, type LibraryAuthority, POINT_STATES, pointDraft, type PointDraft, pointState, type PointState, pointStep, pointUpdate, touches, touchesQuery,
} from './library.ts';
export {
  callDraft, type CallDraft, notice, type Notice, noticeCampaignRow, type NoticeCampaignRow, noticeDraft, type NoticeDraft, noticeQuery, noticeRow,
  type NoticeRow, noticeStep, noticeUpdate,
} from './notice.ts';
export { NOTICE_ASKS, NOTICE_KINDS, type NoticeKind } from './notice-words.ts';
export {
  pack, type Pack, packAuthority, packComponent, packFamily, type PackInput, packJsonSchema, packVariant, packWeakPoint,
} from './pack.ts';
export {
  demoAccount, MAY, may, type Permission, type Role, ROLES, sessionState, type SessionState, sessionUser, type SessionUser, signInRequest,
} from './session.ts';
export {
  limitPicture, type LimitPicture, limits, settings, type Settings, settingsValues, type SettingsValues,
} from './settings.ts';
export {
  changed, type Changed, changeRow, type ChangeRow, comingVisit, type ComingVisit, engineSwapCreate, findingCreate, type FindingCreate, historyEntry, type HistoryEntry,
  jobAction, meterChangeCreate, type MeterReading, partOption, type PartOption, type PartOptionByComponent, questionAnswer, reading, readingCreate, schoolChoiceCreate, serviceCreate,
  type ServiceCreate, vehicle, type Vehicle, vehicleCreate, type VehicleCreate, vehicleListQuery, vehicleListRow, type VehicleListRow,
  vehicleOutlook, type VehicleOutlook, vehicleUpdate, type VehicleUpdate, versionOnly, visit, type Visit, visitCreate, type VisitCreate,
  visitDone, type VisitDone, visitJob, visitState, visitUpdate,
} from './vehicle.ts';
export { sameJson } from './same.ts';
