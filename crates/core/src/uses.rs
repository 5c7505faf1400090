//! What uses a field: looked at before it is changed or removed.

use crate::{
    access::Reach,
    automation::{Recipient, Step},
    condition::{Check, Condition},
    dataset::Dataset,
    history::Part,
    id::{FieldId, OptionId, TableId},
    schema::{FieldDef, Kind, TableDef},
    template::{Piece, Template},
    view::Query,
};
use serde::{Deserialize, Serialize};

/// A part of the tracker that uses a field, and how.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Use {
    pub what: Using,
    /// Its number.
    pub number: u32,
    /// The table it belongs to; of a role, none.
    pub table: Option<TableId>,
    pub name: String,
    /// How it uses the field: *shows it*, *counts it in its formula*.
    pub how: String,
    /// Whether the field can't be taken away before this is changed; otherwise it is taken out here by itself.
    pub holds: bool,
}

/// The sorts of things that use fields.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Using {
    Table,
    Field,
    View,
    Form,
    Role,
    Automation,
}

/// What is looked for.
#[derive(Clone, Copy)]
enum Sought {
    Field(FieldId),
    Option(OptionId),
}

impl Dataset {
    /// Everything that uses a field; of a link, also what uses its other side.
    pub fn uses(&self, table: TableId, field: FieldId) -> Vec<Use> {
        let mut found = self.all_uses(Sought::Field(field));
        if let Some(link) = self.table(table).and_then(|t| t.link(field)) {
            found.extend(self.all_uses(Sought::Field(link.back)).into_iter().filter(|u| u.number != field.get()));
        }
        found
    }

    /// Everything that uses an option of a choice.
    pub fn uses_of_option(&self, option: OptionId) -> Vec<Use> {
        self.all_uses(Sought::Option(option))
    }

    fn all_uses(&self, sought: Sought) -> Vec<Use> {
        let mut found = Vec::new();
        for table in self.tables() {
            table_uses(&table.def, sought, &mut found);
        }
        for part in self.parts() {
            part_uses(&part, sought, &mut found);
        }
        found
    }
}

fn names(condition: &Condition, sought: Sought) -> bool {
    match sought {
        Sought::Field(field) => condition.names(field),
        Sought::Option(option) => condition.tests().iter().any(|t| matches!(&t.check, Check::Option { any, .. } if any.contains(&option))),
    }
}

fn in_template(template: &Template, sought: Sought) -> bool {
    template.0.iter().any(|piece| matches!((piece, sought), (Piece::Value(path), Sought::Field(field)) if path.contains(&field)))
}

fn table_uses(table: &TableDef, sought: Sought, found: &mut Vec<Use>) {
    let mut table_does = |how: &str, holds| {
        let (what, name) = (Using::Table, table.name.clone());
        found.push(Use { what, number: table.id.get(), table: Some(table.id), name, how: how.into(), holds });
    };
    if let Sought::Field(field) = sought {
        if table.standing == field {
            table_does("names its records by it", true);
        }
        if table.beside == Some(field) {
            table_does("tells its records apart by it", false);
        }
        if table.mine.address == Some(field) || table.mine.entered_for == Some(field) {
            table_does("knows by it whose a record is", true);
        }
    }
    for own in &table.fields {
        if let Some(how) = field_use(own, sought) {
            let (what, name) = (Using::Field, format!("{} in {}", own.name, table.name));
            found.push(Use { what, number: own.id.get(), table: Some(table.id), name, how: how.into(), holds: true });
        }
    }
}

/// How one field uses another, or an option.
fn field_use(own: &FieldDef, sought: Sought) -> Option<&'static str> {
    if let Sought::Field(field) = sought {
        if own.id == field {
            return None;
        }
        if own.copies.is_some_and(|c| c.link == field || c.field == field) {
            return Some("copies from it");
        }
        if own.offers.same.iter().any(|s| s.theirs == field || s.ours == field) {
            return Some("offers records by it");
        }
    }
    if names(&own.offers.condition, sought) {
        return Some("offers records by it");
    }
    match (&own.kind, sought) {
        (Kind::Calculation { formula, .. }, Sought::Field(field)) if formula.fields().contains(&field) => Some("computes with it"),
        (Kind::Calculation { formula, .. }, Sought::Option(option)) if formula.names_option(option) => Some("computes with it"),
        (Kind::Summary(summary), _) if names(&summary.condition, sought) => Some("counts by it"),
        (Kind::Summary(summary), Sought::Field(field)) if summary.links.contains(&field) || summary.field == Some(field) => {
            Some("sums it up")
        }
        (Kind::Carried { links, field: carried }, Sought::Field(field)) if links.contains(&field) || *carried == field => {
            Some("carries it")
        }
        (Kind::Choice { on: Some(on), .. }, Sought::Field(field)) if *on == field => Some("offers its options by it"),
        (Kind::Choice { options, .. }, Sought::Option(option)) if options.iter().any(|o| o.under == Some(option)) => {
            Some("offers options under it")
        }
        _ => None,
    }
}

fn part_uses(part: &Part, sought: Sought, found: &mut Vec<Use>) {
    let mut does = |what, table, name: &str, how: &str, holds| {
        found.push(Use { what, number: part.key().1, table, name: name.to_owned(), how: how.into(), holds });
    };
    match part {
        Part::View(view) => {
            let (what, table) = (Using::View, Some(view.table));
            if names(&view.query.condition, sought) {
                does(what, table, &view.name, "narrows by it", false);
            }
            if let Sought::Field(field) = sought {
                if view.query.groups.iter().chain(&view.query.sorts).any(|o| o.field == field) {
                    does(what, table, &view.name, "puts its records in order by it", false);
                }
                if view.query.fields.iter().any(|f| f.field == field) || view.query.tallies.iter().any(|t| t.field == field) {
                    does(what, table, &view.name, "shows it", false);
                }
            }
        }
        Part::Form(form) => {
            if form.conditions().any(|condition| names(condition, sought)) {
                does(Using::Form, Some(form.table), &form.title, "asks by it", true);
            } else if matches!(sought, Sought::Field(field) if form.mentions(field)) {
                does(Using::Form, Some(form.table), &form.title, "asks for it", false);
            }
        }
        Part::Role(role) => {
            let reaches = |r: &Reach| matches!(r, Reach::Where(condition) if names(condition, sought));
            let by = role.tables.values().any(|t| [&t.look, &t.change, &t.remove].into_iter().any(reaches));
            if by {
                does(Using::Role, None, &role.name, "says by it who may do what", true);
            }
        }
        Part::Automation(automation) => {
            let in_step = |Step::Mail { to, subject, body }: &Step| {
                let to = matches!((to, sought), (Recipient::Field(path), Sought::Field(field)) if path.contains(&field));
                to || in_template(subject, sought) || in_template(body, sought)
            };
            if names(&automation.condition, sought) || automation.steps.iter().any(in_step) {
                does(Using::Automation, Some(automation.table), &automation.name, "needs it", true);
            }
        }
        Part::Tracker(_) | Part::Table(_) => {}
    }
}

impl Condition {
    /// The same without the tests that name a field.
    #[must_use]
    pub fn without(&self, field: FieldId) -> Condition {
        let kept = |parts: &[Condition]| {
            let one = |part: &Condition| match part {
                Condition::Test(test) => (!test.path.contains(&field)).then(|| part.clone()),
                nested => Some(nested.without(field)).filter(|n| !n.tests().is_empty()),
            };
            parts.iter().filter_map(one).collect()
        };
        match self {
            Condition::All(parts) => Condition::All(kept(parts)),
            Condition::Any(parts) => Condition::Any(kept(parts)),
            Condition::Test(test) if test.path.contains(&field) => Condition::default(),
            Condition::Test(_) => self.clone(),
        }
    }

    /// The same with another option in place of one; without one, the option is dropped from its lists.
    #[must_use]
    pub fn with_option(&self, old: OptionId, new: Option<OptionId>) -> Condition {
        match self {
            Condition::All(parts) => Condition::All(parts.iter().map(|p| p.with_option(old, new)).collect()),
            Condition::Any(parts) => Condition::Any(parts.iter().map(|p| p.with_option(old, new)).collect()),
            Condition::Test(test) => {
                let mut test = test.clone();
                if let Check::Option { any, .. } = &mut test.check
                    && any.contains(&old)
                {
                    any.retain(|o| *o != old && Some(*o) != new);
                    any.extend(new);
                }
                Condition::Test(test)
            }
        }
    }
}

impl Query {
    /// Takes a field out of everything that names it.
    pub fn forget(&mut self, field: FieldId) {
        self.condition = self.condition.without(field);
        self.groups.retain(|o| o.field != field);
        self.sorts.retain(|o| o.field != field);
        self.fields.retain(|f| f.field != field);
        self.tallies.retain(|t| t.field != field);
    }
}
