import * as yup from 'yup';

export const ID_PATTERN = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/;

/** An object with these fields and no others. */
export const one = (shape: Record<string, yup.AnySchema>): yup.AnySchema =>
  yup
    .object(shape)
    .strict()
    .noUnknown(true, ({ unknown }) => `there is no field ${unknown}`);
/** A text that must be stated. */
export const text = (label: string, most = 120): yup.StringSchema<string> =>
  yup.string().strict().required(`${label} is missing: state it`).max(most, `${label} must have at most ${most} characters`);
