/** Larkmoor Kilns: everything here is made up. */
export const PROGRAM = {
  name: 'Larkmoor Kilns',
  timeZone: 'Europe/Amsterdam',
  country: 'NL',
  trackingOrigin: 'https://go.larkmoor.example',
  fallback: 'https://larkmoor.example/',
  minimumPayout: '50.00',
  payoutDay: 5,
  privacy: 'cut',
  takesApplications: true,
  floodMost: 12,
};

export const TERMS = `Partner terms of Larkmoor Kilns

1. You earn commission on orders, bookings, calls and installs that come through your links, by the rate sheet in force at the time of the event.
2. A commission is held until the goods can no longer be returned, or the class has taken place. What is refunded is taken back.
3. You send people who want to come. No bidding on the name Larkmoor, no extensions that fill in coupons, no links in unasked mail.
4. You carry no names or e-mail addresses in links.
5. We pay on the 5th of each month what was approved by the end of the month before, from 50 euros.
6. Either of us may end this at any time. What was earned is paid.`;

export const PEOPLE = [
  { name: 'Ines Okafor', email: 'ines@larkmoor.example', role: 'manager', password: 'kiln-and-clay' },
  { name: 'Teun Vermaat', email: 'teun@larkmoor.example', role: 'finance', password: 'glaze-by-numbers' },
] as const;

/** Applications that came through the public form and wait. */
export const APPLICANTS = [
  {
    name: 'Clayroom Berlin',
    kind: 'business',
    email: 'hello@clayroom.example',
    country: 'DE',
    address: 'https://clayroom.example/',
    channelKind: 'directory',
    about: 'A studio with 40 members. We would send them to your classes and kilns from our members’ page.',
    referrer: 'MUDRING',
  },
  {
    name: 'Fastdeal Extensions',
    kind: 'business',
    email: 'partners@fastdeal.example',
    country: 'EE',
    address: 'https://fastdeal.example/',
    channelKind: 'coupons',
    about: 'Browser extension that fills in coupons at the checkout of 12,000 shops.',
    referrer: '',
  },
  {
    name: 'Sponge & Rib',
    kind: 'person',
    email: 'sponge@sponge-rib.example',
    country: 'NL',
    address: 'https://sponge-rib.example/',
    channelKind: 'website',
    about: 'Hobby blog about throwing large plates, 900 readers a month.',
    referrer: 'SLOWWHEEL',
  },
] as const;

export const MAIL_COPY = {
  name: 'Autumn glaze box',
  subject: 'The autumn glaze box is here, {partner_name}',
  text: `Hello {partner_name},

the autumn box with four ash glazes ships from Monday. Your readers of {channel_name} reach it here:

{link}

The first box earns 15 %, as always. Pictures and copy are on your page.

Ines`,
};
