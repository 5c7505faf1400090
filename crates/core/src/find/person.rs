//! What is somebody's: records in which a field names them, that they made, or of which they said something.

use crate::{
    access::Lens,
    condition::{Check, Condition, Quantity, Test, Who},
    dataset::Table,
    id::{FieldId, PersonId, RecordId, TableId},
    people::Actor,
    schema::{FieldDef, Kind},
};
use fixedbitset::FixedBitSet;

impl Lens<'_> {
    /// The rows of a table that are somebody's, as far as the asker sees that.
    pub(super) fn rows_of_person(&self, home: &Table, person: PersonId) -> FixedBitSet {
        let table = home.def.id;
        let mut rows = match self.named_in(home, person) {
            Some(condition) => condition.matching(self, table),
            None => FixedBitSet::with_capacity(home.rows()),
        };
        let made = |record: &RecordId| home.meta(*record).is_some_and(|meta| meta.created_by == Actor::Person(person));
        rows.extend(self.records(table).filter(made).map(RecordId::row));
        if self.hears_of(table) {
            let said = |spoken: &crate::talk::Spoken| spoken.comment.by == person && spoken.comment.through.is_none();
            let of = home.talk.iter().filter(|(_, spoken)| spoken.iter().any(|spoken| said(spoken)));
            rows.extend(of.map(|(record, _)| record).filter(|record| self.sees(table, *record)).map(RecordId::row));
        }
        rows
    }

    /// That one of a table's fields names somebody, as a condition; nothing where no field is open that could.
    pub(super) fn named_in(&self, home: &Table, person: PersonId) -> Option<Condition> {
        let any: Vec<Condition> = home.def.fields.iter().filter_map(|def| self.names_person(home.def.id, def, person)).collect();
        (!any.is_empty()).then_some(Condition::Any(any))
    }

    fn names_person(&self, table: TableId, def: &FieldDef, person: PersonId) -> Option<Condition> {
        let (_, kind) = self.ds.shown_kind(table, def.id).filter(|_| self.reads(table, def.id))?;
        if !matches!(kind, Kind::Person | Kind::People | Kind::CreatedBy) {
            return None;
        }
        let path: Vec<FieldId> = match &def.kind {
            Kind::Carried { links, field } => links.iter().chain([field]).copied().collect(),
            _ => vec![def.id],
        };
        let test = Condition::Test(Test { path, of: Quantity::Any, check: Check::Person { not: false, any: vec![Who::Person(person)] } });
        test.check_for(self, table).is_ok().then_some(test)
    }
}
