//! Whether a view fits, and what of it is open to somebody.

use super::{MAX_FIELDS, MAX_GROUPS, MAX_SORTS, Query, Shape, shape::step_refusal};
use crate::{
    access::Lens,
    dataset::Dataset,
    fault::{Checked, Fault, FaultKind, Faults},
    id::{FieldId, TableId},
};

impl Query {
    /// The query as somebody may ask it: fields that are not open to them are left out of what is shown, grouped and sorted.
    ///
    /// # Errors
    /// A condition names what is not open to them, or the rest does not fit.
    pub fn asked_by(&self, lens: &Lens<'_>, table: TableId) -> Checked<Query> {
        if let Err(Faults(found)) = self.condition.check_for(lens, table) {
            return Err(Faults(found.into_iter().map(|f| f.at("/condition")).collect()));
        }
        self.check(lens.dataset(), table)?;
        Ok(self.as_open_to(lens, table))
    }

    /// The same without all that names what is not open to somebody.
    #[must_use]
    pub fn as_open_to(&self, lens: &Lens<'_>, table: TableId) -> Query {
        let open = |field: FieldId| lens.reads(table, field);
        // What lies beneath a calendar is of another table, and open or not as it is there.
        let beneath = |field: FieldId| match lens.dataset().field(field) {
            Some((home, _)) if home.def.id != table => lens.opens(home.def.id) && lens.reads(home.def.id, field),
            _ => open(field),
        };
        Query {
            condition: self.condition.as_open_to(lens, table),
            groups: self.groups.iter().filter(|o| open(o.field)).copied().collect(),
            sorts: self.sorts.iter().filter(|o| open(o.field)).copied().collect(),
            fields: self.fields.iter().filter(|f| open(f.field)).copied().collect(),
            tallies: self.tallies.iter().filter(|t| open(t.field)).copied().collect(),
            shape: self.shape.as_open_to(&beneath),
            without: self.without.clone(),
        }
    }

    /// Whether everything it names is there and fits.
    ///
    /// # Errors
    /// [`FaultKind::BadRule`] for each thing that is not.
    pub fn check(&self, ds: &Dataset, table: TableId) -> Checked<()> {
        let mut faults = Vec::new();
        if let Err(Faults(found)) = self.condition.check(ds, table) {
            faults.extend(found.into_iter().map(|f| f.at("/condition")));
        }
        let there = |field: FieldId| ds.table(table).is_some_and(|t| t.def.field(field).is_some());
        let gone = |at: String| Fault::new(FaultKind::BadRule, "This view names a field that is not there any more.").at(at);
        let named = [
            ("groups", self.groups.iter().map(|o| o.field).collect::<Vec<_>>()),
            ("sorts", self.sorts.iter().map(|o| o.field).collect()),
            ("fields", self.fields.iter().map(|f| f.field).collect()),
            ("tallies", self.tallies.iter().map(|t| t.field).collect()),
        ];
        for (list, fields) in named {
            let lost = fields.iter().enumerate().filter(|(_, field)| !there(**field));
            faults.extend(lost.map(|(place, _)| gone(format!("/{list}/{place}"))));
        }
        let shown = |field: FieldId| ds.shown_kind(table, field).map(|(_, kind)| kind.shows());
        for (place, tally) in self.tallies.iter().enumerate() {
            if !tally.figure.is_short() {
                let message = "A list does not stand under a view. Take how many different ones there are.";
                faults.push(Fault::new(FaultKind::BadRule, message).at(format!("/tallies/{place}")));
            } else if shown(tally.field).is_some_and(|kind| tally.figure.shown(Some(kind)).is_none()) {
                let name = ds.field(tally.field).map_or("this field", |(_, def)| def.name.as_str());
                let message = format!("“{name}” can’t be figured so: {} needs another kind of field.", tally.figure.name());
                faults.push(Fault::new(FaultKind::BadRule, message).at(format!("/tallies/{place}")));
            }
        }
        for (place, group) in self.groups.iter().enumerate() {
            if !group.by.is_value() && shown(group.field).is_some_and(|kind| !kind.is_of_days()) {
                let message = "Only days and moments stand together by week, month, quarter or year.";
                faults.push(Fault::new(FaultKind::BadRule, message).at(format!("/groups/{place}")));
            }
        }
        let crossed = match &self.shape {
            Shape::CrossTab(tab) => {
                tab.down.iter().map(|by| (by, "/shape/down")).chain(tab.across.iter().map(|by| (by, "/shape/across"))).collect()
            }
            _ => Vec::new(),
        };
        for (by, at) in self.groups.iter().map(|by| (by, "/groups")).chain(crossed) {
            let refused = by.step.zip(shown(by.field)).and_then(|(step, kind)| step_refusal(kind, step));
            faults.extend(refused.map(|message| Fault::new(FaultKind::BadRule, message).at(at)));
        }
        faults.extend(self.check_shape(ds, table, |field| shown(field).cloned()));
        // One that is gone is off anyway; the list is bounded by how many there can be.
        if self.without.len() > crate::highlight::MOST_HIGHLIGHTS {
            faults.push(Fault::new(FaultKind::TooLong, "This view names more highlights than a table has.").at("/without"));
        }
        if self.fields.len() > MAX_FIELDS || self.tallies.len() > MAX_FIELDS {
            let message = format!("A view shows at most {MAX_FIELDS} fields, and as many figures.");
            faults.push(Fault::new(FaultKind::TooLong, message));
        }
        if self.groups.len() > MAX_GROUPS || self.sorts.len() > MAX_SORTS {
            let message = format!("A view has at most {MAX_GROUPS} groups and {MAX_SORTS} sorts.");
            faults.push(Fault::new(FaultKind::BadRule, message));
        }
        Faults::none_or(faults)
    }
}
