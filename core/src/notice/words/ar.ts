import { counting } from '../../wording';
import { type NoticeWords } from './notice-words';

const counted = counting('ar');
const minutesWord = (minutes: number): string =>
  counted(minutes, {
    zero: '# دقيقة',
    one: 'دقيقة واحدة',
    two: 'دقيقتين',
    few: '# دقائق',
    many: '# دقيقة',
    other: '# دقيقة',
  });
const personsWord = (people: number): string =>
  counted(people, {
    zero: '# شخص',
    one: 'شخص واحد',
    two: 'شخصين',
    few: '# أشخاص',
    many: '# شخصًا',
    other: '# شخص',
  });

export const catalogue: NoticeWords = {
  language: 'ar',
  outerSubject: (office) => `رسالة سرية من ${office}`,
  runsOutSubject: (date) => `شهادتك تنتهي صلاحيتها في ${date}`,
  runsOut: (date, office) =>
    `شهادتك لتوقيع البريد وتشفيره لدى ${office} تنتهي صلاحيتها في ${date}. جدّدها قبل ذلك من صفحة «Keys»: تُنشأ شهادة جديدة وتبقى القديمة للقراءة. افعل ذلك بنفسك في Under Lock؛ لن يطلبه منك أحد أبدًا عبر رابط إلى مكان آخر.`,
  triedSubject: (office) => `البريد يخرج من ${office}`,
  tried: (office) =>
    `طلبتَ من Under Lock لدى ${office} إرسال هذه الرسالة إليك، وقد وصلت، فالإشعارات تخرج أيضًا. هل كانت في مجلد الرسائل غير المرغوب فيها؟ انشر إذن السجلات المذكورة في «Office» حتى تميّز خوادم البريد بريدك من بريد غيرك.`,
  requestSubject: (sender) => `${sender} يطلب منك رسالة موقّعة`,
  requestText: (name, sender, office) => `${name === '' ? 'تحية طيبة،' : `تحية طيبة ${name}،`}

أودّ أن أراسلك بسرية، مباشرة إلى برنامج بريدك. أحتاج لذلك إلى شهادتك أو مفتاح OpenPGP الخاص بك، وأبسط طريقة هي رسالة موقّعة منك.

الخطوات:
1. أجب عن هذه الرسالة.
2. قبل الإرسال فعّل التوقيع. تجده في معظم برامج البريد في نافذة الكتابة باسم «توقيع» أو «توقيع رقمي».
3. أرسلها. لا حاجة إلى كتابة شيء.
إذا كنت تستخدم OpenPGP فأرفق مفتاحك العام.

إن لم يكن في برنامجك هذا الخيار فليست لديك شهادة بعد. أجب بأنه ليست لديك شهادة، وسأختار طريقة أخرى.

هذه الرسالة نفسها موقّعة، ليستطيع برنامجك أن يبيّن لك أنها مني.

${sender}
${office}`,
  subject: (sender) => `رسالة لك من ${sender}`,
  greeting: (name) => (name === '' ? 'تحية طيبة،' : `تحية طيبة ${name}،`),
  opening: (sender, address, office) =>
    `كتب إليك ${sender} (${address}) من ${office}. الرسالة محفوظة في غرفة القراءة لدينا وليست في هذا البريد.`,
  openingOfReply: (sender, address, office) =>
    `أجاب ${sender} (${address}) جميع من يقرؤون رسالة من ${office}. الجواب محفوظ في غرفة القراءة لدينا وليس في هذا البريد.`,
  openingCarried: (sender, address, office) =>
    `كتب إليك ${sender} (${address}) من ${office}. الرسالة في الملف المرفق بهذا البريد، وهي مقفلة؛ تُفتح في غرفة القراءة لدينا بعد أن تثبت هويتك.`,
  carriedHere: (ending) =>
    ending === undefined
      ? 'افتح الملف واضغط الزر الذي فيه. إن لم يُفتح فانتقل إلى هذه الصفحة وأعطها الملف:'
      : `احفظ الملف. ينتهي اسمه بـ «.${ending}» كي يصل: غيّر اسمه لينتهي بـ «.html» ثم افتحه. أو انتقل إلى هذه الصفحة وأعطها الملف كما هو:`,
  carriedButton: 'إلى غرفة القراءة',
  carriedName: 'message-under-lock-ar',
  carriedTitle: (sender) => `رسالة مقفلة من ${sender}`,
  carriedSays: (office) =>
    `هي مختومة في هذا الملف. تحتفظ ${office} بنصف مفتاحها: اضغط الزر، وأثبت هويتك، فتُفتح في غرفة القراءة لدينا. يلزم اتصال بالشبكة. يستطيع المرسل إغلاق الرسالة أو سحبها؛ وبعد ذلك لا يُفتح الملف.`,
  carriedOtherwise: (address) => `إن لم يحدث شيء فانتقل إلى ${address} وأعطِ تلك الصفحة هذا الملف.`,
  openingPassedOn: (reader, address, sender, office) =>
    `أحال إليك ${reader} (${address}) رسالة من ${sender} من ${office}، وهو يسمح بذلك. الرسالة محفوظة في غرفة القراءة لدينا وليست في هذا البريد.`,
  until: (date) => `يمكنك قراءتها حتى ${date}.`,
  checkByText: (hint) => `عند فتحها نرسل رمزًا في رسالة نصية إلى الهاتف المنتهي بـ ${hint}.`,
  checkByEmail: (hint) => `عند فتحها نرسل رمزًا إلى عنوانك الآخر ${hint}.`,
  checkByVoice: (hint) => `عند فتحها نتصل بالهاتف المنتهي بـ ${hint} ونقرأ رمزًا.`,
  checkByTold: 'عند فتحها يُطلب منك كلمة مرور لمرة واحدة يخبرك بها المرسل بطريقة أخرى.',
  checkByQuestion: 'عند فتحها يُطرح عليك سؤال تعرف جوابه أنت والمرسل.',
  checkByPassword: 'لديك كلمة مرور عندنا: سجّل الدخول بها للقراءة. هذا الرابط وحده لا يفتح شيئًا.',
  alsoQuestion: 'ويُطرح عليك أيضًا سؤال تعرف جوابه أنت والمرسل.',
  openHere: 'افتحها هنا:',
  openButton: 'فتح الرسالة',
  answerThere: 'يُرجى الرد من هناك: فقد يقرأ آخرون في الطريق ردًّا على هذا البريد.',
  notForYou: 'إن لم تكن هذه الرسالة لك فلا تفتح شيئًا واحذف هذا البريد: لا يستطيع أحد قراءتها دون الرمز.',
  notForYouRegistered: 'إن لم تكن هذه الرسالة لك فاحذف هذا البريد: لا يستطيع أحد قراءتها دون كلمة المرور.',
  whyALink: 'ألم تكن تتوقعها؟ اتصل بالمرسل قبل فتحها على رقم تعرفه من قبل.',
  reminderSubject: (sender) => `لم تُقرأ بعد: رسالة من ${sender}`,
  reminder: (sender, date) =>
    `ترك لك ${sender} رسالة لم تفتحها. رابطها في بريدنا المؤرخ ${date}؛ نحن لا نحتفظ به ولا نستطيع تكراره هنا.`,
  ruleSubject: (sender) => `قاعدة عملت على رسالة من ${sender}`,
  rule: (sender, people, rules, date, reference) =>
    `أرسل ${sender} رسالة إلى ${personsWord(people)} في ${date}${reference === '' ? '' : `، برقم المرجع ${reference}`}. ما عمل عليها: ${rules}. لا يذكر هذا البريد موضوعها.`,
  releaseSubject: (sender) => `رسالة من ${sender} تنتظر الإفراج`,
  release: (sender, people, rules) =>
    `كتب ${sender} إلى ${personsWord(people)}، وتقضي قواعد المكتب بأن ينظر فيها شخص آخر قبل خروجها: ${rules}. أفرج عنها أو أعدها مع جملة توضّح السبب. لا يذكر هذا البريد موضوعها.`,
  releasedSubject: (end) => (end === 'let-go' ? 'أُفرج عن رسالتك' : 'أُعيدت رسالتك إليك'),
  released: (end, by, date) =>
    by === undefined
      ? `لم يبتّ أحد في الرسالة التي سلّمتها في ${date}، فلم تخرج. وهي الآن مسودة من جديد.`
      : end === 'let-go'
        ? `نظر ${by} في الرسالة التي سلّمتها في ${date} وأفرج عنها.`
        : `نظر ${by} في الرسالة التي سلّمتها في ${date} وأعادها إليك. لم تخرج؛ والسبب تجده حيث كانت تنتظر.`,
  receiptSubject: (reader) => `فتح ${reader} رسالتك`,
  receipt: (reader, address, date, reference) =>
    `فتح ${reader} (${address}) رسالتك${reference === '' ? '' : ` ذات المرجع ${reference}`} أول مرة في ${date}.`,
  handedSubject: (office) => `رسالة منك تنتظر لدى ${office}`,
  handed: 'أرسلتَها من برنامج البريد لديك. لم تخرج بعد ولم تصل إلى أحد. ما ينقصها:',
  waitingSubject: (office) => `لك شيء محفوظ لدى ${office}`,
  waiting: (count) =>
    `${counted(count, {
      zero: 'تنتظرك # رسالة',
      one: 'تنتظرك رسالة',
      two: 'تنتظرك رسالتان',
      few: 'تنتظرك # رسائل',
      many: 'تنتظرك # رسالة',
      other: 'تنتظرك # رسالة',
    })}، ولم تدخل منذ ذلك الحين. سجّل الدخول للقراءة؛ لا يذكر هذا البريد الموضوع ولا المرسل.`,
  passcodeSubject: (code) => `${code} هو رمزك`,
  passcode: (code, office, minutes) =>
    `${code} هو رمزك لرسالة ${office}. يصلح مرة واحدة، مدة ${minutesWord(minutes)}. لا نطلبه أبدًا بالهاتف.`,
  mailboxCodeSubject: (code) => `${code} يؤكد عنوانك`,
  mailboxCode: (code, office, minutes) =>
    `${code} يؤكد أن صندوق البريد هذا لك، من أجل كلمة مرورك في غرفة القراءة لدى ${office}. يصلح مرة واحدة، مدة ${minutesWord(minutes)}. ألم تطلبه؟ لا تفعل شيئًا: لا يتغير شيء دونه.`,
  choiceSubject: 'كيف نكتب إليك من الآن فصاعدًا',
  choice: (office) =>
    `في غرفة القراءة لدى ${office} اختير كيف نكتب إليك من الآن فصاعدًا. يمكنك الاختيار من جديد تحت أي رسالة تقرؤها هناك. من يكتب إليك يرى الاختيار قبل إرسال أي شيء.`,
  choiceBack: 'ألم تكن أنت، أو لم تعد تريد ذلك؟ بهذا الرابط تتراجع عنه؛ لا أحد يقرأ الردود على هذا البريد:',
  slotReceiptSubject: (number) => `وصل: ${number}`,
  slotReceipt: (slot, office, number) => `ما تركته لـ ${slot} لدى ${office} وصل مقفلًا. رقمه ${number}.`,
  slotAnswer:
    'يأتي الجواب إلى صندوق البريد هذا إشعارًا من غرفة القراءة. قد يُطلب فيه رمز الجواب الذي ظهر عند ترك الرسالة؛ ليس لدينا هذا الرمز ولا نستطيع إرساله.',
  passcodeCall: (digits, office) =>
    `هذه غرفة القراءة لدى ${office}. رمزك هو: ${digits}. مرة أخرى: ${digits}. لن يطلبه منك أحد من ${office} أبدًا.`,
};
