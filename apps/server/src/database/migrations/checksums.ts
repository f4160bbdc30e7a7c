/** SHA-256 of each migration's file. A new migration adds a line; a line never changes. */
export const MIGRATION_CHECKSUMS: Readonly<Record<string, string>> = {
  '0001-first': 'd8a9044d74173800251c6cec56f83ea53f73786d5c8a250acd3ede6eeb97748a',
  '0002-bench': '340c97a82dcb014eb85b525790b66130552c0f0c04b92e7478a34ebf09cfac5a',
  '0003-plan-and-ride': '3852c0e713d334a581236ffc0594bf9b75536dde09a4562146b8fc6783d09326',
  '0004-findings': '8b7754ffa9aaa4585ba5b12d6d73b1f91fec7b583571ec4f85500581da1a0cf9',
  '0005-analyses-asked': '66c465bffeb5ae098694058b4c8db7f64ffda7f3d7ee7ab63e1b6433230121c3',
  '0006-catch-up': '7f189954987f9ccb198d499b3451d5fb65bd02278420c707fc343728b30443b7',
  '0007-plain-names': 'd816f4463a253d7137007bedd717d9c608009329c7915473fdcc148611019e6f',
  '0008-import-leases': 'd073a37721c8f6b5da56a97a5bbb9f55e9ec611516ab4422159de71672ef9dda',
  '0009-way-of-riding': 'e37995a25c7fc708c7be0b075f1bde5b175b52c51c36defc9b1755be85a57ad5',
  '0010-before-conversion': '16dd9e379a133f1473cf6e365965dcdb214ae71a58ac3ec2c47185e41d491459',
  '0011-deleted-runs': 'bbb7584809f60311c216ffe84fc06dcc4608b833566db636d1b0b9dd1155a21e',
  '0012-fitting-record': 'f81124590f4e1e41117f9e034bb9ce5a87692bc0753fcf2214bcfb88e4fa565c',
  '0013-decide': '56927f42ae3171691863ca31194c103dfb77a055796dace30de4a3cb214687af',
  '0014-report': 'e34a0f68d7296cde9f586028384474f2ec9ab99c70c27c190735ef0d7cee5fbc',
  '0015-elsewhere': '1e3b0debe49dbb8c54d6dd5d4c60c141d46384d4c88514a86ce05ed3c8b896ed',
};
