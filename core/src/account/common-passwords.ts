/**
 * Passwords that many people have, as far as they are long enough to be taken at all: from the list of common passwords
 * of a well-known estimator (@zxcvbn-ts/language-common), and what is made of a common word by digits and signs at its
 * ends. Whoever has a copy of a table tries these first.
 */
const LISTED = new Set(
  (
    '123qweasdzxc 1qaz2wsx3edc q1w2e3r4t5y6 1q2w3e4r5t6y mailcreated5240 qazwsxedcrfv 123456qwerty qwerty123456 ' +
    'sojdlg123aljg leavemealone 123456654321 gfhjkmgfhjkm qazwsxedc123 ghjcnjgfhjkm zxcasdqwe123 sonyericsson ' +
    'ghhh47hj7649 123456789qwe 1qazxsw23edc qwerasdfzxcv qweasdzxc123 flvbybcnhfnjh 123456789987654321 112233445566 ' +
    'ghbdtnrfrltkf websolutions finalfantasy 1qaz2wsx3edc4rfv chickenwing101 unbelievable administrator ' +
    '123321123321 justinbieber contortionist 123qwe123qwe newproject2004 needforspeed businessbabe 123456789123 ' +
    'maurolarastefy supernatural professional domainlock2005 scandinavian dkflbvbhjdbx hd764nw5d7e1vb1 ' +
    'qazwsxedcrfvtgb 123456789012 dkflbvbhjdyf counterstrike zaq1xsw2cde3 vfvfvskfhfve 123456789abc fkmnthyfnbdf ' +
    'intelligence ghjcnjghjcnj admin18533362 23176djivanfros 123456789qwerty qazxswedcvfr qwertyasdfgh ' +
    'whosyourdaddy 1111111111zz fktrcfylhjdbx fktrcfylhjdyf 541233432442 123456789qaz ghbdtnghbdtn password1234 ' +
    '12345678900987654321 chesterfield 010203040506 lost4815162342 102030405060 vanyarespekt qwerty123456789 ' +
    '89231243658s iseedeadpeople transformers devilmaycry4 combat123654 qwertyytrewq jamesbond007 123123qweqwe ' +
    '4815162342lost 123456789qqq asdfghjkl123 1234qwerasdf 123qwe456rty 1234567890qw ghjcnjrdfibyj qwertyuiop123 ' +
    'international saun24865709 q1w2e3r4t5y6u7 ptybnxtvgbjy 1qa2ws3ed4rf 123456789zxc 12345678987654321 ' +
    'playstation3 31217221027711 159753159753 mevefalkcakk 1234567890qwe hedimaptfcor cosmopolitan q1w2e3r4t5y6u7i8 ' +
    'zqjphsyf6ctifgu lhbjkjubz2957704 123456782000 andrewjackie 1qazxsw23edcvfr4 12qw34er56ty christopher1 ' +
    '159753456852 networkingpe philadelphia peanutbutter boy4u2ownnyc ingodwetrust minecraft123 digitalprodu ' +
    'installdevic an83546921an13 qawsedrftgyh abc123456789 123321qweewq auckland2010 residentevil olcrackmaster ' +
    '1234567890zzz 32615948worms 012345678910 avrillavigne massimiliano nhfdvfnjkju123 742617000027 41d8cd98f00b ' +
    'nemvxyheqdd5oqxyxyzi temppassword punksnotdead fynfyfyfhbde nightcrawler playstation2 gjkysqgbpltw ' +
    'ticketmaster 01telemike01 stratocaster ghjcnjqgfhjkm installsqlst 123456789101 1234567890qaz frederiksberg ' +
    '1a2s3d4f5g6h passwordpassword schoolgirlie sanfrancisco 89876065093rax 1234567qwertyu lytghjgtnhjdcr ' +
    '111222333000 nhecsyfujkjdt zaqwsxcderfv seemnemaailm qwaszxerdfcv antananarivu greenlantern qazwsxqazwsx ' +
    'vfrcbvvfrcbv 1234qwerasdfzxcv ghjcnjgbpltw 123321456654 1234567890987654321 1234567890qwerty ' +
    'q1w2e3r4t5y6u7i8o9p0 morganstanley 59382113kevinp qwe123qwe123 gtnhjpfdjlcr zxcvbn123456 bltynbabrfwbz ' +
    'warhammer40k passwordstandard maprchem56458 construction bpgjldsgjldthnf iampurehaha2 qazxswedc123 ' +
    'qwertyuiop10 stinkyfinger cjdthitycndj corperfmonsy weihnachtsbau 1234567892000 1234567887654321 stickdaddy77 ' +
    '123456789000 014702580369 asdfgh123456 necronomicon mortalkombat 123qwerty123 systemofadown qaz123wsx456 ' +
    'nastyanastya zxcvbnm123456789 satisfaction cheeseburger a1s2d3f4g5h6 122333444455555 vladimirovna ' +
    '111222333444555 ilovemyfamily michaeljackson vfhbyfvfhbyf qwertyuiop12345 1qa2ws3ed4rf5tg websolutionssu ' +
    'amadeusptfcor specialinsta 123456789asd nhfycajhvths rfnthbyf1988 paraklast1974 webuivalidat msorcloledbr ' +
    'nondriversig 123456789qwer wazzkaprivet weihnachtsbaum fktrcfylhjdf z1x2c3v4b5n6m7 ghjnbdjcnjzybt qwertyuiop12 ' +
    'sonnenschein anytimetoday ntktdbpjh1994 thecakeisalie ontheoutside zcfvfzkexifz xxxp455w0rd5 qwertasdfgzxcvb ' +
    'ghjatccbjyfk aksjdlasdakj89879 23wkoa0fp78dk marinamarina fatima753357 6215mila6215 zaq12wsxcde3 love777321777 ' +
    '123456789aaa 4815162342lf pfqwtd27121988 cnfc35762209 12345677654321 zxcvbnmmnbvcxz civilization findaupair007 ' +
    'alpha135792468 ghtdtlvtldtl edwardcullen gfhfktkjuhfv qazwsx123456 lytdybrbdfvgbhf asd123asd123 ' +
    'passwordassword ronaldinho10 ipo54tj45uy856 89semtsriuty foreveryoung sdicmt7seytn blacksonblon ' +
    '420842084208555 ktjynsq40147 1a2a3a4a5a6a bullnuts2003 050605rostik 19960610ilja 123456zxcvbn z1x2c3v4b5n6 ' +
    'entertainment 89063032220m badiman28200 123ewqasdcxz nhbujyjvtnhbz hd764nw5d7e1vbv josephphone7 gthtrfnbgjkt ' +
    'configuratio msoracle32re bhrh0h2oof6xbqjeh 193570356033 '
  )
    .trim()
    .split(' '),
);

/** Common whatever stands around them. */
const WORDS = new Set([
  'password',
  'passwort',
  'passw0rd',
  'p@ssword',
  'p@ssw0rd',
  'palavrapasse',
  'senha',
  'qwerty',
  'qwertz',
  'azerty',
  'qwertyuiop',
  'asdfghjkl',
  'zxcvbnm',
  'welcome',
  'willkommen',
  'letmein',
  'iloveyou',
  'admin',
  'administrator',
  'changeme',
  'secret',
  'login',
  'master',
  'monkey',
  'dragon',
  'football',
  'sunshine',
  'princess',
  'superman',
  'abc',
  'test',
  'user',
  'root',
  'hallo',
  'hello',
  'underlock',
  'summer',
  'winter',
  'spring',
  'autumn',
]);

const isRun = (text: string): boolean => {
  const steps = new Set([...text].slice(1).map((character, at) => character.charCodeAt(0) - text.charCodeAt(at)));
  return steps.size <= 1;
};

/** The word that is left without digits, blanks and signs at either end; one that is repeated, once. */
function core(text: string): string {
  const letters = /[\p{L}@][\p{L}\p{N}@]*/u.exec(text)?.[0] ?? '';
  const word = letters.replace(/\d{1,20}$/, '');
  const period = Array.from({ length: Math.floor(word.length / 2) }, (_, at) => at + 1).find(
    (length) => word.length % length === 0 && word.slice(0, length).repeat(word.length / length) === word,
  );
  return period === undefined ? word : word.slice(0, period);
}

/** Whether it is one of those that are tried first. */
export function isCommonPassword(password: string): boolean {
  const text = password.normalize('NFKC').toLowerCase().slice(0, 256);
  const bare = text.replace(/[^\p{L}\p{N}]/gu, '');
  return LISTED.has(bare) || isRun(bare) || /^\d*$/.test(bare) || WORDS.has(core(text));
}

/**
 * The very first of them, in the spellings that are typed. A server that never sees a password can hold only so many
 * against it: it stretches each of these with the new password's own salt, and refuses when one gives the same proof.
 */
export const TRIED_FIRST: readonly string[] = [
  'password1234',
  'Password1234',
  'Password1234!',
  'Password123!',
  'password12345',
  'passwordpassword',
  '123456789012',
  '1234567890123',
  '12345678901234',
  'qwertyuiop12',
  'qwerty123456',
  'Qwerty123456',
  'qwertyqwerty',
  'iloveyou1234',
  'welcome12345',
  'Welcome12345',
  'Welcome1234!',
  'letmein12345',
  'administrator',
  'Administrator1',
  'changeme1234',
  'passw0rd1234',
  '1q2w3e4r5t6y',
  '1qaz2wsx3edc',
];
