//! Whether what a table says of its records for rounds makes sense.

use crate::{
    dataset::Dataset,
    fault::{Fault, FaultKind},
    id::FieldId,
    schema::{Finish, Kind, MOST_TELLS, Rounds, TableDef},
};

impl Rounds {
    /// The first thing that does not fit the table.
    ///
    /// # Errors
    /// What it is, and where.
    pub(crate) fn check(&self, ds: &Dataset, table: &TableDef) -> Result<(), Fault> {
        let wrong = |message: &str, at: &str| Err(Fault::new(FaultKind::BadRule, message).at(at));
        let kind = |id: FieldId| table.field(id).map(|def| &def.kind);
        let shown = |id: FieldId| ds.shown_kind(table.id, id).map(|(_, kind)| kind);
        match ds.walk(table.id, &self.who).map(|(home, field)| ds.shown_kind(home, field).map(|(_, kind)| kind)) {
            Ok(Some(Kind::Person | Kind::People | Kind::CreatedBy)) => {}
            _ => return wrong("Say whose a record is: choose a field of persons.", "/who"),
        }
        if self.due.is_some_and(|due| !shown(due).is_some_and(Kind::is_of_days)) {
            return wrong("Choose a field that holds a day.", "/due");
        }
        let fits = match &self.done {
            Finish::Options { field, any } => {
                let options = table.field(*field).filter(|def| matches!(def.kind, Kind::Choice { .. })).map(|def| def.kind.options());
                !any.is_empty() && options.is_some_and(|options| any.iter().all(|id| options.iter().any(|option| option.id == *id)))
            }
            Finish::Yes(field) => matches!(kind(*field), Some(Kind::YesNo)),
            Finish::Filled(field) | Finish::Noted(field) => matches!(kind(*field), Some(Kind::Date | Kind::DateTime)),
        };
        if !fits {
            return wrong("Say what means done: options of a choice, a yes, or a day that is put in.", "/done");
        }
        if self.urgency.is_some_and(|field| !matches!(kind(field), Some(Kind::Choice { .. }))) {
            return wrong("How urgent something is, is told by a choice whose later options are the more urgent ones.", "/urgency");
        }
        if self.tells.len() > MOST_TELLS || self.tells.iter().any(|field| kind(*field).is_none()) {
            return wrong(&format!("At most {MOST_TELLS} fields are told of a record in rounds."), "/tells");
        }
        Ok(())
    }
}
