import { Audit } from './accounts/audit';
import { People } from './accounts/people';
import { Sessions } from './accounts/sessions';
import { WrongSetting, readConfig } from './config';
import { Database } from './database/database';
import { migrate } from './database/migrate';

/**
 * Prints a link with which somebody becomes an administrator: for the
 * first one, and where all others are gone. For whoever has the machine.
 */
try {
  const config = readConfig({ ...process.env, UNIROTA_ACCOUNTS: 'on' });
  await migrate(config.database);
  const database = new Database(config.database, { connections: 2 });
  const people = new People(database, new Sessions(database, config.session), new Audit(database));
  const { token, expires } = await people.invite('administrator', undefined);
  const address = config.address?.href ?? `http://${config.host}:${config.port}/`;
  process.stdout.write(`For one administrator, once, until ${expires.slice(0, 10)}:\n${address.replace(/\/$/, '')}/join#${token}\n`);
  await database.end();
} catch (e) {
  process.stderr.write(`${e instanceof WrongSetting ? e.message : `No link could be made: ${e instanceof Error ? e.message : String(e)}`}\n`);
  process.exitCode = 1;
}
