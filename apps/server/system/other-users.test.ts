import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { loginUsers, wordOnOthers } from './other-users';

const passwd = `root:x:0:0:root:/root:/bin/bash
daemon:x:1:1:daemon:/usr/sbin:/usr/sbin/nologin
anna:x:1000:1000:Anna:/home/anna:/bin/bash
berta:x:1001:1001::/home/berta:/usr/bin/zsh
scanner:x:1002:1002::/home/scanner:/usr/sbin/nologin
service:x:1003:1003::/srv:/bin/false
nobody:x:65534:65534:nobody:/nonexistent:/usr/sbin/nologin
`;

it('people are who can log in, besides oneself', () => {
  expect(loginUsers(passwd, 1000)).toEqual(['berta']);
  expect(loginUsers(passwd, 0)).toEqual(['anna', 'berta']);
  expect(loginUsers('', 0)).toEqual([]);
});

it('what others may do is said once', async () => {
  const root = await mkdtemp(join(tmpdir(), 'owl-loom-others-'));
  try {
    await writeFile(join(root, 'none'), 'root:x:0:0::/root:/bin/bash\n');
    expect(await wordOnOthers(root, join(root, 'none'))).toBeUndefined();
    await writeFile(join(root, 'some'), passwd.replaceAll('1000', '12345').replaceAll('1001', '12346'));
    expect(await wordOnOthers(root, join(root, 'some'))).toMatch(/^anna, berta can log in .*\.\/loom password/);
    expect(await wordOnOthers(root, join(root, 'some'))).toBeUndefined();
    expect(await wordOnOthers(root, join(root, 'gone'))).toBeUndefined();
  } finally {
    await rm(root, { recursive: true, force: true });
  }
});
