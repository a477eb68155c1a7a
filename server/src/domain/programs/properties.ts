import { and, eq, inArray, sql } from 'drizzle-orm';
import type { Queries } from '../../db/database.ts';
import { davProperties } from '../../db/schema/index.ts';
import type { SignedIn } from '../../platform/sessions.ts';

/** What programs have noted about things: each person's own, and nothing that anybody else sees. */

export type DavProperty = Pick<typeof davProperties.$inferSelect, 'namespace' | 'name' | 'xml'>;

/** The properties of some things, by their node names. */
export async function propertiesOf(
  db: Queries,
  personId: string,
  nodes: readonly string[],
): Promise<ReadonlyMap<string, DavProperty[]>> {
  if (nodes.length === 0) return new Map();
  const found = await db
    .select()
    .from(davProperties)
    .where(
      and(
        eq(davProperties.personId, personId),
        // As one parameter: folders have thousands.
        sql`${davProperties.node} = any (${sql.param([...nodes])}::text[])`,
      ),
    )
    .orderBy(davProperties.namespace, davProperties.name);
  const byNode = new Map<string, DavProperty[]>();
  for (const one of found) byNode.set(one.node, [...(byNode.get(one.node) ?? []), one]);
  return byNode;
}

/** How many properties programs have set for a person. */
export async function countProperties(db: Queries, personId: string): Promise<number> {
  const [found] = await db
    .select({ n: sql<number>`count(*)::int` })
    .from(davProperties)
    .where(eq(davProperties.personId, personId));
  return found!.n;
}

export async function setProperty(
  tx: Queries,
  { id: personId, schoolId }: SignedIn,
  node: string,
  property: DavProperty,
): Promise<void> {
  await tx
    .insert(davProperties)
    .values({ personId, schoolId, node, ...property })
    .onConflictDoUpdate({
      target: [
        davProperties.personId,
        davProperties.node,
        davProperties.namespace,
        davProperties.name,
      ],
      set: { xml: property.xml },
    });
}

export async function removeProperty(
  tx: Queries,
  personId: string,
  node: string,
  { namespace, name }: Pick<DavProperty, 'namespace' | 'name'>,
): Promise<void> {
  await tx
    .delete(davProperties)
    .where(
      and(
        eq(davProperties.personId, personId),
        eq(davProperties.node, node),
        eq(davProperties.namespace, namespace),
        eq(davProperties.name, name),
      ),
    );
}

/** A thing that is no more, or is another one now, has none. */
export async function removeProperties(
  tx: Queries,
  personId: string,
  nodes: readonly string[],
): Promise<void> {
  await tx
    .delete(davProperties)
    .where(and(eq(davProperties.personId, personId), inArray(davProperties.node, [...nodes])));
}

/** What is noted about one thing is noted about another, too. */
export async function copyProperties(
  tx: Queries,
  personId: string,
  from: string,
  to: string,
): Promise<void> {
  await removeProperties(tx, personId, [to]);
  await tx.execute(
    sql`insert into dav_properties (school_id, person_id, node, namespace, name, xml)
      select school_id, person_id, ${to}::text, namespace, name, xml from dav_properties
      where person_id = ${personId}::uuid and node = ${from}::text`,
  );
}
