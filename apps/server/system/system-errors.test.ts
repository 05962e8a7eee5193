import { describe, expect, it } from 'vitest';
import { translateSystemError } from './system-errors';

const coded = (code: string, more: object = {}) => Object.assign(new Error(code), { code, ...more });

describe('faults of the system', () => {
  it('have a sentence where a person can mend them', () => {
    expect(translateSystemError(coded('ENOSPC', { path: '/somewhere' }))).toMatchObject({
      code: 'disk-full',
      message: expect.stringMatching(/Free some space/),
    });
    const full = Object.assign(new Error('The table is full'), { driverError: coded('ER_RECORD_FILE_FULL') });
    expect(translateSystemError(full)).toMatchObject({ code: 'disk-full' });
    expect(translateSystemError(coded('ECONNREFUSED'))).toMatchObject({ code: 'database-gone' });
    expect(
      translateSystemError(
        Object.assign(new Error('query failed'), { driverError: coded('PROTOCOL_CONNECTION_LOST') }),
      ),
    ).toMatchObject({ code: 'database-gone' });
  });

  it('are left alone where they are our own', () => {
    // A file that is not there is no database that is away.
    expect(translateSystemError(coded('ENOENT', { path: '/var/x.fits' }))).toBeUndefined();
    expect(translateSystemError(new TypeError('x is undefined'))).toBeUndefined();
    expect(translateSystemError(undefined)).toBeUndefined();
  });
});
