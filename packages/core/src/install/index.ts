export {
  installPlan,
  type InstallOptions,
  type InstallPlan,
  type LinkTarget,
  type PlannedCopy,
  type PlannedLink,
  type PlannedProject,
} from './install-plan.js';
