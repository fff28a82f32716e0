import { ok } from '@/core/shared/result';
import { RegistrarAccount, Registration, RegistrationQuestion } from '@/db/registration/entities';
import { act, found, get, post, viewed, type Endpoint } from '@/services/kit/api';
import { checkRegistrarAgain, connectRegistrar, removeRegistrar } from './accounts';
import { answerQuestion, callBack, handIn } from './applications';
import { keepBrand, keepProgramFile } from './files';
import { AnswerQuestionInput, BrandInput, ConnectRegistrarInput, ProgramFileInput } from './inputs';
import { readBrandScreen, readProgramFile } from './screen';
import { brandView, findingView, questionView, registrarView, registrationView, writtenView } from './views';

export const REGISTRATION_API: readonly Endpoint[] = [
  get('/registrars', 'The registrar numbers are registered by', async ({ scope }) =>
    ok({ items: (await scope.em.find(RegistrarAccount, { removedAt: null })).map(registrarView) }),
  ),
  post(
    '/registrars',
    'Connect the registrar numbers are registered by; it is asked at once',
    ConnectRegistrarInput,
    201,
    async ({ ctx, scope, input, actor }) =>
      viewed(await connectRegistrar(ctx, scope, input, actor), registrarView),
  ),
  act('/registrars/{id}/check', 'Ask a registrar now', async ({ ctx, scope, id }) =>
    viewed(await checkRegistrarAgain(ctx, scope, id), registrarView),
  ),
  act('/registrars/{id}/removal', 'Take a registrar out', async ({ ctx, scope, id, actor }) =>
    viewed(await removeRegistrar(ctx, scope, id, actor), registrarView),
  ),
  get('/registrations', 'How the brand, programs and numbers stand at the registrar', async ({ scope }) =>
    ok({
      items: (await scope.em.find(Registration, {}, { orderBy: { createdAt: 'asc' } })).map(registrationView),
      questions: (await scope.em.find(RegistrationQuestion, {}, { orderBy: { askedAt: 'asc' } })).map(
        questionView,
      ),
    }),
  ),
  act('/registrations/{id}/take-back', 'Take back what is under way', async ({ ctx, scope, id, actor }) =>
    viewed(await callBack(ctx, scope, id, actor), registrationView),
  ),
  post(
    '/registration-questions/{id}/answer',
    'Answer a question of a reviewer',
    AnswerQuestionInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await answerQuestion(ctx, scope, id, input.answer, actor), questionView),
  ),
  get('/brand', 'What is told of the business, and what it lacks', async ({ ctx, scope }) => {
    const screen = await readBrandScreen(scope, ctx.now());
    return ok({ ...brandView(screen), findings: screen.line.found.map(findingView) });
  }),
  post('/brand', 'Keep what is told of the business', BrandInput, 200, async ({ ctx, scope, input, actor }) =>
    viewed(await keepBrand(ctx, scope, input, actor), brandView),
  ),
  act('/brand/hand-in', 'Hand in the brand, or a change of it', async ({ ctx, scope, actor }) =>
    viewed(await handIn(ctx, scope, { about: 'brand', id: '' }, actor), registrationView),
  ),
  get(
    '/programs/{id}/registration',
    'What is told of a program, taken from what it says, and what it lacks',
    async ({ ctx, scope, id }) => {
      const screen = await readProgramFile(scope, id, ctx.now());
      if (!screen) return found(null, 'program');
      return ok({ ...writtenView(screen), file: screen.file, findings: screen.line.found.map(findingView) });
    },
  ),
  post(
    '/programs/{id}/registration',
    'Keep what is told of a program',
    ProgramFileInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await keepProgramFile(ctx, scope, id, input, actor), writtenView),
  ),
  act('/programs/{id}/hand-in', 'Hand in a program, or a change of it', async ({ ctx, scope, id, actor }) =>
    viewed(await handIn(ctx, scope, { about: 'program', id }, actor), registrationView),
  ),
  act('/sender-numbers/{id}/hand-in', 'Hand in a sender number', async ({ ctx, scope, id, actor }) =>
    viewed(await handIn(ctx, scope, { about: 'number', id }, actor), registrationView),
  ),
];
