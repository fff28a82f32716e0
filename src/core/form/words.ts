import type { Frequency } from '../program/promise';

export type Language = 'en' | 'es' | 'fr';

export const LANGUAGES: Record<Language, string> = { en: 'English', es: 'español', fr: 'français' };

/** What is agreed to, worded by rule; it stands beside a box that nobody ticked. Source: 47 CFR 64.1200(f)(9). */
export interface Agreement {
  business: string;
  program: string;
  promise: Frequency;
}

/** The words of a form that its writer does not give. */
export interface FormWords {
  number: string;
  name: string;
  email: string;
  postal_code: string;
  button: string;
  optional: string;
  yes: string;
  no: string;
  choose: string;
  terms: string;
  privacy: string;
  agreement(of: Agreement): string;
  sent(number: string): string;
  /** For whoever said STOP before: only they can come back. */
  backAgain(number: string): string;
  over: string;
  kept: string;
  hello(name: string): string;
  problems: Record<ProblemCode, string>;
  wrong: string;
}

export type ProblemCode =
  | 'empty'
  | 'number'
  | 'number-country'
  | 'name'
  | 'email'
  | 'postal_code'
  | 'date'
  | 'amount'
  | 'choice'
  | 'too-long'
  | 'agree'
  | 'nothing'
  | 'too-many';

const per = (promise: Frequency, words: { week: string; month: string; recurring: string; upTo: string }) =>
  promise === null ? words.recurring : `${words.upTo} ${promise.count} ${words[promise.period]}`;

export const FORM_WORDS: Record<Language, FormWords> = {
  en: {
    number: 'Mobile number',
    name: 'Name',
    email: 'E-mail address',
    postal_code: 'ZIP code',
    button: 'Sign up',
    optional: 'optional',
    yes: 'yes',
    no: 'no',
    choose: 'choose one',
    terms: 'Terms',
    privacy: 'Privacy',
    agreement: ({ business, program, promise }) =>
      `I agree that ${business} sends ${program} to this number by automated text. ${per(promise, {
        ...{ recurring: 'Recurring msgs', upTo: 'Up to', week: 'msgs/week', month: 'msgs/month' },
      })}. Msg & data rates may apply. Reply HELP for help, STOP to stop. Consent is not a condition of purchase.`,
    sent: (number) =>
      `We have sent a text to ${number}. Answer it with YES, and you are in. Nothing else is sent before.`,
    backAgain: (number) =>
      `Nothing came? If you said STOP to us before, only you can undo it: text START to ${number}.`,
    over: 'This form is closed.',
    kept: 'Thank you. We have it.',
    hello: (name) => `Hello ${name}`,
    wrong: 'Something is missing. Nothing was sent yet.',
    problems: {
      empty: 'Please fill this in.',
      number: 'Write a mobile number with its area code, such as (303) 555-0123.',
      'number-country': 'We can text numbers of this country only.',
      name: 'Write a first and a last name, in letters.',
      email: 'Write an e-mail address, such as ana@example.org.',
      postal_code: 'Write the five digits of a ZIP code, such as 81201.',
      date: 'Write a day with its year, such as May 5, 1990.',
      amount: 'Write a number, such as 12.',
      choice: 'Choose one of these.',
      'too-long': 'This is too long: at most 500 characters.',
      agree: 'Tick the box if you agree. Without it we may not text you.',
      nothing: 'Fill in at least one of them.',
      'too-many': 'Too many came from here just now. Try again in an hour.',
    },
  },
  es: {
    number: 'Número de móvil',
    name: 'Nombre',
    email: 'Correo electrónico',
    postal_code: 'Código postal',
    button: 'Inscribirme',
    optional: 'opcional',
    yes: 'sí',
    no: 'no',
    choose: 'elija uno',
    terms: 'Condiciones',
    privacy: 'Privacidad',
    agreement: ({ business, program, promise }) =>
      `Acepto que ${business} envíe ${program} a este número por mensajes de texto automáticos. ${per(
        promise,
        {
          ...{
            recurring: 'Mensajes recurrentes',
            upTo: 'Hasta',
            week: 'mensajes por semana',
            month: 'mensajes al mes',
          },
        },
      )}. Pueden aplicarse tarifas de mensajes y datos. Responda HELP para ayuda, STOP para dejar de recibirlos. El consentimiento no es condición de compra.`,
    sent: (number) =>
      `Hemos enviado un mensaje a ${number}. Respóndalo con YES y quedará inscrito. Antes no se envía nada más.`,
    backAgain: (number) =>
      `¿No llegó nada? Si antes nos envió STOP, solo usted puede deshacerlo: envíe START al ${number}.`,
    over: 'Este formulario está cerrado.',
    kept: 'Gracias. Lo hemos recibido.',
    hello: (name) => `Hola, ${name}`,
    wrong: 'Falta algo. Todavía no se ha enviado nada.',
    problems: {
      empty: 'Rellene este campo.',
      number: 'Escriba un móvil con su prefijo, como (303) 555-0123.',
      'number-country': 'Solo podemos escribir a números de este país.',
      name: 'Escriba nombre y apellido, con letras.',
      email: 'Escriba un correo, como ana@example.org.',
      postal_code: 'Escriba las cinco cifras del código postal, como 81201.',
      date: 'Escriba un día con su año, como 1990-05-05.',
      amount: 'Escriba un número, como 12.',
      choice: 'Elija una de las opciones.',
      'too-long': 'Es demasiado largo: 500 caracteres como máximo.',
      agree: 'Marque la casilla si está de acuerdo. Sin ello no podemos escribirle.',
      nothing: 'Rellene al menos uno.',
      'too-many': 'Llegaron demasiados desde aquí. Inténtelo de nuevo en una hora.',
    },
  },
  fr: {
    number: 'Numéro de portable',
    name: 'Nom',
    email: 'Adresse e-mail',
    postal_code: 'Code postal',
    button: "S'inscrire",
    optional: 'facultatif',
    yes: 'oui',
    no: 'non',
    choose: 'choisissez',
    terms: 'Conditions',
    privacy: 'Confidentialité',
    agreement: ({ business, program, promise }) =>
      `J'accepte que ${business} envoie ${program} à ce numéro par SMS automatiques. ${per(promise, {
        ...{
          recurring: 'Messages récurrents',
          upTo: "Jusqu'à",
          week: 'messages par semaine',
          month: 'messages par mois',
        },
      })}. Des frais de messages et de données peuvent s'appliquer. Répondez HELP pour de l'aide, STOP pour arrêter. Le consentement n'est pas une condition d'achat.`,
    sent: (number) =>
      `Nous avons envoyé un SMS au ${number}. Répondez YES et vous êtes inscrit. Rien d'autre n'est envoyé avant.`,
    backAgain: (number) =>
      `Rien reçu ? Si vous nous aviez envoyé STOP, vous seul pouvez y revenir : envoyez START au ${number}.`,
    over: 'Ce formulaire est fermé.',
    kept: 'Merci. C’est noté.',
    hello: (name) => `Bonjour ${name}`,
    wrong: "Il manque quelque chose. Rien n'a encore été envoyé.",
    problems: {
      empty: 'Remplissez ce champ.',
      number: 'Écrivez un portable avec son indicatif, comme (303) 555-0123.',
      'number-country': 'Nous ne pouvons écrire qu’aux numéros de ce pays.',
      name: 'Écrivez un prénom et un nom, en lettres.',
      email: 'Écrivez une adresse e-mail, comme ana@example.org.',
      postal_code: 'Écrivez les cinq chiffres du code postal, comme 81201.',
      date: 'Écrivez un jour avec son année, comme 1990-05-05.',
      amount: 'Écrivez un nombre, comme 12.',
      choice: 'Choisissez une des options.',
      'too-long': 'C’est trop long : 500 caractères au plus.',
      agree: 'Cochez la case si vous êtes d’accord. Sans cela nous ne pouvons pas vous écrire.',
      nothing: 'Remplissez-en au moins un.',
      'too-many': 'Trop de demandes sont venues d’ici. Réessayez dans une heure.',
    },
  },
};
