export {
  addressOf,
  authorizationOf,
  shownAddress,
  splitAddress,
  type Credentials,
  type Token,
  type RegistryAddress,
} from './address.js';
export { documentFile } from './document-file.js';
export { HttpRegistry, type Answer, type HttpSettings } from './http-registry.js';
export { DocumentCache, userCacheFolder } from './document-cache.js';
export {
  packageDocuments,
  registryPort,
  type PackageDocuments,
  type PortSettings,
} from './registry-port.js';
export { searchRegistry } from './search-registry.js';
export { archiveRequests, type ArchiveAnswer, type ArchiveRequests } from './archive-requests.js';
