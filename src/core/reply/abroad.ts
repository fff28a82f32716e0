/**
 * Wishes to leave in languages that programs do not write in, and that people answer in all the same: what nobody here
 * could read must not go on. On the plainest dress of a reply (see `plain`).
 */
export const LEAVING_ABROAD: readonly { code: string; test: RegExp }[] = [
  {
    code: 'german',
    test: /\b(?:keine?r?|nie) (?:weiteren? |mehr )*(?:nachrichten?|sms|texte?|textnachrichten?|werbung|werbe\w+|infos?)\b|\b(?:nicht|nichts|nie) mehr (?:von (?:ihnen|euch|dir) )?(?:schreiben|anschreiben|kontaktieren|senden|schicken|zusenden|bekommen|erhalten|haben|horen|belastigen)\b|\b(?:schreibt|schreiben sie|schickt|schicken sie|sendet|senden sie|kontaktiert|kontaktieren sie) (?:mir|mich|uns) (?:bitte )?(?:nicht|nichts|nie|keine)\b|\bhort? (?:\w+ ){0,3}auf (?:mir|mich|uns|zu|damit|mit)\b|^hort? (?:bitte |endlich )?auf$|\bhoren sie (?:\w+ ){0,2}auf\b|\b(?:mochte|will|wollen|wurde) (?:mich |uns )?(?:\w+ ){0,3}(?:abmelden|austragen|abbestellen)\b|^(?:bitte )?(?:abmelden|abmeldung|austragen|abbestellen|kundigen)(?: bitte)?$|\b(?:meldet|tragt|melden sie|tragen sie|nehmt|nehmen sie|streicht|streichen sie|loscht|loschen sie|entfernt|entfernen sie) (?:mich|uns|meine|diese)\b|\blass(?:t|en sie)? (?:mich|uns) in ruhe\b/,
  },
  {
    code: 'italian',
    test: /\b(?:basta|niente|stop|mai) (?:piu |con |i |questi |altri )*(?:messagg\w+|sms|pubblicita|avvisi)\b|\bnon (?:voglio|desidero|vogliamo) (?:piu )?(?:ricever\w*|messagg\w+|essere|niente|nulla|sms)\b|\b(?:voglio|desidero) (?:cancellarmi|disiscrivermi|essere (?:rimoss|cancellat)\w+)\b|\bnon (?:mi )?(?:scrive\w+|manda\w+|invia\w+|contatta\w+|disturba\w+)\b(?: \w+)? ?piu\b|\bnon (?:scrivetemi|scrivermi|mandatemi|mandarmi|inviatemi|contattatemi|contattarmi)\b|\b(?:rimuov|cancella|elimina|toglie|leva|disiscrive)(?:te)?(?:mi|temi|rmi)\b|\b(?:toglietemi|toglimi|levatemi|disiscriv\w+|smettetela|lasciatemi in pace)\b/,
  },
  {
    code: 'portuguese',
    test: /\b(?:parem?|deixem?) de (?:me )?(?:mandar|enviar|escrever|incomodar|perturbar|contatar)\w*\b|\bnao (?:quero|desejo|autorizo) (?:mais )?(?:receber|mensage\w+|nada|isso|sms)\b|\bnao me (?:mandem?|envi\w+|escrev\w+|contat\w+|perturb\w+|incomod\w+)\b|\b(?:me )?(?:tirem?|retirem?|removam?|excluam?|apaguem?|descadastr\w+)(?: (?:me|o meu|meu|da lista|desta lista))\b|\b(?:sair|saia) (?:da|desta|dessa) lista\b|\bme (?:tirem?|removam?|excluam?|descadastr\w+)\b|\bchega de mensagens\b/,
  },
  {
    code: 'chinese',
    test: /不(?:想|要|需要|愿意?)(?:再)?(?:收到?|接收|发|發|联系|聯繫)|(?:别|別|勿|停止|请勿|請勿)再?(?:发|發|联系|聯繫|打扰|打擾)/,
  },
  {
    code: 'tagalog',
    test: /\b(?:itigil|tigilan|huwag) (?:\w+ ){0,3}(?:text|mensahe|pagtext|magtext|ako)\b|^(?:itigil|tigil|tama na)(?: (?:na|po))*$/,
  },
  {
    code: 'vietnamese',
    test: /\b(?:dung|ngung|đung|ngưng) (?:gui|nhan|text)\b|\b(?:huy|bo) (?:dang|đang) ky\b/,
  },
];

/** What people send alone to leave, in languages and alphabets beside our own; after NFKC, in lower case, accents gone. */
export const STOP_ABROAD: ReadonlySet<string> = new Set(
  [
    ...['abmelden', 'abmeldung', 'abbestellen', 'austragen', 'aufhoren', 'abbruch'],
    ...['rimuovimi', 'rimuovetemi', 'cancellami', 'cancellatemi', 'disiscrivimi', 'disiscrivetemi', 'ferma'],
    ...['descadastrar', 'descadastre', 'cancelamento', 'salir', 'salirme', 'desuscribir', 'desuscribirme'],
    ...[
      'rezygnuje',
      'wypisz',
      'wypisz mnie',
      'afmelden',
      'avsluta',
      'avmelding',
      'lopeta',
      'iptal',
      'sispann',
    ],
    ...[
      '退订',
      '退訂',
      '停止',
      '停',
      '取消',
      '取消订阅',
      '取消訂閱',
      '不要再发',
      '不要再發',
      '配信停止',
      '解除',
    ],
    ...['수신거부', '그만', '중지', 'стоп', 'отписаться', 'отписка', 'отпишите меня', 'хватит', 'зупинити'],
    ...['توقف', 'الغاء', 'إلغاء', 'الغاء الاشتراك', 'हटाओ', 'बंद करो', 'dung lai', 'ngung', 'huy'],
  ].map((word) => word.normalize('NFKC').toLowerCase().normalize('NFKD').replace(/\p{M}/gu, '')),
);

/** Signs that mean a stop and nothing else, as the whole of a reply. */
export const STOP_SIGNS = /^(?:\s|\ufe0f)*(?:(?:\u{1f6d1}|\u26d4|\u{1f6ab}|\u{1f515})(?:\s|\ufe0f|[!.])*)+$/u;
