/** A small workspace: `log` is agreed at ^1.0.0, `web` is out of line, `kit` takes it. */
export const FILES = {
  'ledger.toml': `# the root
format = 1
name = "small"
projects = ["apps/*"]
registry = "main"
[platform]
runtime = "20.0.0"
`,
  'ledger.shared.toml': `format = 1
[shared]
log = "^1.0.0"   # agreed in May
`,
  'apps/web/ledger.project.toml': `name = "web"   # the pages
[needs]
log = "^2.0.0"   # needs the new lines
json = "^1.0.0"
`,
  'apps/kit/ledger.project.toml': `name = "kit"
[needs]
log = "shared"
json = "^1.0.0"
`,
  'README.md': 'small\n',
} as const;

export const REGISTRY = {
  log: { '1.0.0': {}, '1.1.0': {}, '2.0.0': { json: '^1.0.0' }, '2.1.0': { json: '^1.0.0' } },
  json: { '1.0.0': {}, '1.1.0': {} },
} as const;
