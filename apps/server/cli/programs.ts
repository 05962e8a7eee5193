/** Programs of Debian packages that the server needs. */
export const SERVER_PROGRAMS = { mariadbd: 'mariadb-server', 'mariadb-install-db': 'mariadb-server' };

/** What the tests need beyond the server: a browser, and the proxy of the worked example. */
export const TEST_PROGRAMS = { ...SERVER_PROGRAMS, chromium: 'chromium', haproxy: 'haproxy' };
