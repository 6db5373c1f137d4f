export {
  POLICY_SETTINGS,
  type EarlierAnswer,
  type Edit,
  type EditKind,
  type EditProblem,
  type PolicySetting,
  type PutBack,
} from './edit.js';
export {
  CLEAR_EVERYTHING,
  describeEdit,
  draftMessage,
  leftOutWords,
  type EditWords,
} from './describe-edit.js';
export {
  editsWithoutLevel,
  levelEdits,
  levelInUse,
  levelUp,
  ownRequirementsOn,
  levelStep,
  rangeLike,
  type LevelStep,
} from './level-edits.js';
export { upgradeStep, type Move, type UpgradeStep } from './upgrade-step.js';
