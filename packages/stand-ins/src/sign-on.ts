import { randomUUID } from 'node:crypto';
import express, { type Express } from 'express';
import { exportJWK, generateKeyPair } from 'jose';
import Provider, { type Configuration } from 'oidc-provider';
import { Served, page } from './served.js';

/** Somebody of the college, by the name they sign on with. */
export interface SignOnPerson {
  readonly login: string;
  readonly name: string;
  readonly affiliation: string;
}

const PEOPLE: readonly SignOnPerson[] = [
  { login: 'petra', name: 'Petra Sandell', affiliation: 'staff' },
  { login: 'iver', name: 'Iver Holm', affiliation: 'student' },
  { login: 'it', name: 'Gro Vik', affiliation: 'it' },
  { login: 'guest', name: 'A Guest', affiliation: 'guest' },
];

export interface SignOnOptions {
  readonly port?: number;
  /** Where the server is. */
  readonly tool: string;
  readonly clientId?: string;
  readonly clientSecret?: string;
  readonly people?: readonly SignOnPerson[];
}

/**
 * The stand-in of a college's sign-on (OpenID Connect): whoever is named is believed. Sessions end on its page
 * of the college, which tells the server.
 */
export class SignOnStandIn {
  issuer = '';
  readonly clientId: string;
  readonly clientSecret: string;
  private readonly people: readonly SignOnPerson[];
  private served: Served | null = null;

  constructor(private readonly options: SignOnOptions) {
    this.clientId = options.clientId ?? 'contactum';
    this.clientSecret = options.clientSecret ?? 'a secret of the stand-in';
    this.people = options.people ?? PEOPLE;
  }

  /** What the server is told by its environment. */
  get environment(): Record<string, string> {
    return {
      OIDC_ISSUER: this.issuer,
      OIDC_CLIENT_ID: this.clientId,
      OIDC_CLIENT_SECRET: this.clientSecret,
      OIDC_NAME: 'Saltmarsh sign-on',
      OIDC_ROLES: 'administrator affiliation=it; instructor affiliation=staff; student affiliation=student',
    };
  }

  async start(): Promise<this> {
    const app = express();
    this.served = await Served.begin(app, this.options);
    this.issuer = this.served.address;
    const provider = new Provider(this.issuer, await this.configuration());
    this.interactions(app, provider);
    app.use(provider.callback());
    return this;
  }

  async stop(): Promise<void> {
    await this.served?.stop();
  }

  private async configuration(): Promise<Configuration> {
    const { privateKey } = await generateKeyPair('RS256', { extractable: true });
    const jwk = { ...(await exportJWK(privateKey)), kid: randomUUID(), alg: 'RS256', use: 'sig' };
    const { tool } = this.options;
    return {
      clients: [
        {
          client_id: this.clientId,
          client_secret: this.clientSecret,
          redirect_uris: [`${tool}/api/sign-on/callback`],
          post_logout_redirect_uris: [`${tool}/`],
          backchannel_logout_uri: `${tool}/api/sign-on/backchannel`,
          backchannel_logout_session_required: true,
          token_endpoint_auth_method: 'client_secret_post',
        },
      ],
      jwks: { keys: [jwk] },
      cookies: { keys: [randomUUID()] },
      claims: { openid: ['sub'], profile: ['name', 'preferred_username', 'affiliation'] },
      conformIdTokenClaims: false,
      ttl: { AccessToken: 3600, Grant: 86_400, IdToken: 3600, Interaction: 3600, Session: 86_400 },
      features: {
        devInteractions: { enabled: false },
        backchannelLogout: { enabled: true },
        rpInitiatedLogout: { enabled: true },
      },
      findAccount: (_context, id) => {
        const found = this.people.find(({ login }) => login === id);
        return found
          ? {
              accountId: id,
              claims: () => ({
                sub: id,
                name: found.name,
                preferred_username: found.login,
                affiliation: found.affiliation,
              }),
            }
          : undefined;
      },
      interactions: { url: (_context, { uid }) => `/interaction/${uid}` },
      // Nobody is asked what the server may know: it is the college's own.
      loadExistingGrant: async (context) => {
        const grant = new context.oidc.provider.Grant({
          clientId: context.oidc.client?.clientId ?? '',
          accountId: context.oidc.session?.accountId ?? '',
        });
        grant.addOIDCScope('openid profile');
        await grant.save();
        return grant;
      },
    };
  }

  private interactions(app: Express, provider: Provider): void {
    app.get('/interaction/:uid', async (request, response) => {
      const { uid } = await provider.interactionDetails(request, response);
      const buttons = this.people.map(
        ({ login, name, affiliation }) =>
          `<p><button name="login" value="${login}">${name} (${affiliation})</button></p>`,
      );
      response
        .type('html')
        .send(
          page(
            'Sign-on of the college',
            '<p>A stand-in: whoever you choose is believed. The people are made up.</p>',
            `<form method="post" action="/interaction/${uid}">`,
            ...buttons,
            '</form>',
          ),
        );
    });
    app.post('/interaction/:uid', express.urlencoded({ extended: false }), async (request, response) => {
      await provider.interactionFinished(
        request,
        response,
        { login: { accountId: (request.body as { login: string }).login } },
        { mergeWithLastSubmission: false },
      );
    });
  }
}
