export { buildArchive, type Archive, type ArchiveContent } from './build-archive.js';
export { Catalogue, readCatalogue, type PublishedChange } from './catalogue.js';
export { registryApp } from './registry-app.js';
export type { PackageDocument, ReleaseDocument } from './release-document.js';
