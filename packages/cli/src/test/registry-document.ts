/** A registry's document of a package with these releases, which need nothing. */
export function documentOf(name: string, versions: readonly string[] = ['1.0.0', '1.1.0']): object {
  return {
    name,
    releases: versions.map((version) => ({
      version,
      published: '2024-01-01T00:00:00Z',
      archive: {
        path: `/archives/${name}/${version}`,
        integrity: `sha512-${'A'.repeat(86)}==`,
        bytes: 1,
      },
    })),
  };
}
