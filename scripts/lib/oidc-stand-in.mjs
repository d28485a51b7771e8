// A provider of identities on the loopback (OpenID Connect), which stands in for a school's own. Its accounts are told on the command line, as JSON:
//
//   '[{"sub":"hoku","email":"…","email_verified":true,"name":"…","groups":["teachers"]}]'
//
// The first line it prints is its address. Who started it sends it `{ back }`, the address at which people are sent back; from then on it answers. Whoever
// signs in there types an account's `sub`, and any password.
import { createServer } from 'node:http';
import { Provider } from 'oidc-provider';

const accounts = JSON.parse(process.argv[2]);
let callback = (_, response) => response.writeHead(503).end();
const server = createServer((request, response) => callback(request, response));
await new Promise((resolve) => server.listen(0, '127.0.0.1', resolve));
const address = `http://127.0.0.1:${server.address().port}`;

process.on('message', ({ back }) => {
  const provider = new Provider(address, {
    clients: [
      {
        client_id: 'ypsigraph',
        client_secret: 'only for trying, on the loopback',
        redirect_uris: [back],
        response_types: ['code'],
        grant_types: ['authorization_code'],
      },
    ],
    claims: { openid: ['sub'], email: ['email', 'email_verified'], profile: ['name', 'groups', 'cohorts'] },
    // What is asked for comes with the identity itself, as most providers have it.
    conformIdTokenClaims: false,
    pkce: { required: () => true },
    features: { devInteractions: { enabled: true } },
    async findAccount(_, id) {
      const claims = accounts.find(({ sub }) => sub === id);
      return claims && { accountId: id, claims: () => claims };
    },
    cookies: { keys: ['only for trying'] },
    ttl: { Interaction: 600, Session: 600, Grant: 600, IdToken: 600, AccessToken: 600 },
  });
  callback = provider.callback();
});
process.on('disconnect', () => process.exit());
console.log(address);
