import { type Design, migrate, withoutUnstated } from '@unirota/core/document';

/** A stored document as one of this version, without fields that state nothing. */
export const ofThisVersion = (design: Design): Design => withoutUnstated(migrate(design));
