//! Making and removing tables.

use super::{Decider, draft::Draft};
use crate::{
    fault::{Checked, Fault, FaultKind},
    history::Op,
    id::{FieldId, RoleId, TableId, ViewId},
    import::singular,
    names::Name,
    part::Part,
    rules::stewards_only,
    schema::{Arrangement, FieldDef, Kind, Link, MineBy, Recipe, Rounds, TEXT_LIMIT, TableDef},
    view::{Query, ShownField, View},
};
use serde::Deserialize;
use std::collections::HashMap;

/// What is done to a table as a whole.
#[allow(clippy::large_enum_variant, reason = "there is one at a time, and it is not moved about")]
#[derive(Clone, Debug)]
pub enum TableChange {
    /// A new table, with a view of all its records. Its numbers and those of its fields are given here, whatever they say.
    Add(TableDef),
    /// The same from what somebody says of it, with empty records that stand ready.
    Begin(NewTable),
    /// Names, heading, and which fields stand for its records.
    Change { table: TableId, name: String, one: String, heading: String, standing: FieldId, beside: Option<FieldId> },
    /// What makes its records somebody's own. For stewards: roles speak of it.
    Mine { table: TableId, mine: MineBy },
    /// How its records are laid out where one is opened.
    Arrange { table: TableId, arrangement: Arrangement },
    /// To which roles alone, beside stewards, what is said of its records is told; none: to whoever sees the record. For stewards: it
    /// is who sees what.
    TalkFor { table: TableId, roles: Vec<RoleId> },
    /// The recipes by which its records are made again.
    Recipes { table: TableId, recipes: Vec<Recipe> },
    /// How its records stand in people's rounds; none: they do not.
    Rounds { table: TableId, rounds: Option<Rounds> },
    /// To the bin, with its records; its views and forms go.
    Remove(TableId),
    /// Back from the bin.
    Restore(TableId),
}

/// What somebody says of a table before there is one.
#[derive(Clone, Debug, Default, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct NewTable {
    pub name: String,
    /// The name of one record; none: told from the name.
    #[serde(default)]
    pub one: Option<String>,
    #[serde(default)]
    pub heading: String,
    /// Its first fields, by name; text all of them. None: a few to begin with.
    #[serde(default)]
    pub fields: Vec<String>,
}

impl NewTable {
    fn def(&self) -> Result<TableDef, Fault> {
        let one = self.one.clone().filter(|one| !one.trim().is_empty()).unwrap_or_else(|| singular(&self.name));
        let named: Vec<&str> = self.fields.iter().map(|n| n.trim()).filter(|n| !n.is_empty()).collect();
        let begin = [("Name", Kind::Text { limit: TEXT_LIMIT }), ("Notes", Kind::LongText)];
        let fields = if named.is_empty() {
            begin.to_vec()
        } else {
            named.into_iter().map(|name| (name, Kind::Text { limit: TEXT_LIMIT })).collect()
        };
        let fields: Vec<FieldDef> =
            (1..).zip(fields).filter_map(|(n, (name, kind))| Some(FieldDef::new(FieldId::new(n)?, name, kind))).collect();
        let standing = TableDef::standing_among(&fields).ok_or_else(|| Fault::not_found("field"))?;
        let id = TableId::FIRST;
        Ok(TableDef { heading: self.heading.clone(), ..TableDef::new(id, &self.name, &one, standing, fields) })
    }
}

impl Decider<'_> {
    /// The operations, and the number of the table that was made.
    pub(super) fn tables(&self, change: &TableChange) -> Checked<(Vec<Op>, Option<u32>)> {
        self.may_build()?;
        let mut draft = Draft::new(self.ds);
        let mut made = None;
        match change {
            TableChange::Add(def) => made = Some(new_table(&mut draft, def.clone())),
            TableChange::Begin(new) => made = Some(new_table(&mut draft, new.def()?)),
            TableChange::Change { table, name, one, heading, standing, beside } => {
                self.ds.table(*table).ok_or_else(|| Fault::not_found("table"))?;
                let def = draft.table(*table)?;
                def.name = name.trim().to_owned();
                def.one = one.trim().to_owned();
                def.heading = heading.trim().to_owned();
                def.standing = *standing;
                def.beside = *beside;
            }
            TableChange::Mine { table, mine } => {
                stewards_only(&self.lens)?;
                self.ds.table(*table).ok_or_else(|| Fault::not_found("table"))?;
                draft.table(*table)?.mine = *mine;
            }
            TableChange::TalkFor { table, roles } => {
                stewards_only(&self.lens)?;
                self.ds.table(*table).ok_or_else(|| Fault::not_found("table"))?;
                let mut roles = roles.clone();
                roles.sort_unstable();
                roles.dedup();
                draft.table(*table)?.talk_for = roles;
            }
            TableChange::Arrange { table, arrangement } => {
                self.ds.table(*table).filter(|_| self.lens.opens(*table)).ok_or_else(|| Fault::not_found("table"))?;
                draft.table(*table)?.arrangement = arrangement.tidied();
            }
            TableChange::Recipes { table, recipes } => {
                self.ds.table(*table).filter(|_| self.lens.opens(*table)).ok_or_else(|| Fault::not_found("table"))?;
                draft.table(*table)?.recipes = recipes.clone();
            }
            TableChange::Rounds { table, rounds } => {
                self.ds.table(*table).filter(|_| self.lens.opens(*table)).ok_or_else(|| Fault::not_found("table"))?;
                draft.table(*table)?.rounds.clone_from(rounds);
            }
            TableChange::Remove(table) => self.bin_table(&mut draft, *table)?,
            TableChange::Restore(table) => {
                let removed = self.ds.binned_tables().find(|t| t.def.id == *table).ok_or_else(|| Fault::not_found("removed table"))?;
                draft.table(*table)?.gone = None;
                self.link_again(&mut draft, &removed.def)?;
                let def = draft.table(*table)?.clone();
                if !self.ds.views().any(|v| v.table == *table) {
                    let view = whole_view(&mut draft, &def);
                    draft.put(Part::View(view));
                }
            }
        }
        let ops = draft.ops();
        self.stands_after(&ops)?;
        Ok((ops, made.map(TableId::get)))
    }

    /// The links that went with a table come back with it, where the other table is there.
    fn link_again(&self, draft: &mut Draft<'_>, removed: &TableDef) -> Result<(), Fault> {
        let with_it = removed.binned.iter().filter(|b| Some(b.at) == removed.gone);
        for field in with_it.map(|b| &b.field) {
            let Kind::Link(link) = field.kind else { continue };
            let waits = |def: &TableDef| def.binned.iter().any(|b| b.field.id == link.back);
            // Of two links between the table and itself, the first has brought the other along.
            let here = draft.table(removed.id)?.binned.iter().any(|b| b.field.id == field.id);
            if here && self.ds.table(link.to).is_some_and(|to| waits(&to.def)) {
                self.restore_field(draft, removed.id, field.id)?;
            }
        }
        Ok(())
    }

    fn bin_table(&self, draft: &mut Draft<'_>, table: TableId) -> Result<(), Fault> {
        let home = self.ds.table(table).ok_or_else(|| Fault::not_found("table"))?;
        let links: Vec<(FieldId, Link)> =
            home.def.fields.iter().filter_map(|f| if let Kind::Link(link) = f.kind { Some((f.id, link)) } else { None }).collect();
        let elsewhere = |u: &crate::uses::Use| u.holds && u.table != Some(table);
        for (field, _) in &links {
            if let Some(holding) = self.ds.uses(table, *field).into_iter().find(elsewhere) {
                return Err(self.held(&home.def.name, &holding, " along a link"));
            }
        }
        let automations: Vec<_> = self.ds.automations().filter(|a| a.table == table).cloned().collect();
        // What belongs to the table goes with it, and nothing elsewhere may need that.
        let own = self.ds.forms().filter(|f| f.table == table).map(|f| Name::Form(f.id));
        let texts = self.ds.stored_texts().filter(|text| text.table == table).map(|text| Name::Text(text.id));
        for name in own.chain(automations.iter().map(|a| Name::Automation(a.id))).chain(texts) {
            if let Some(holding) = self.ds.uses_of(name).into_iter().find(elsewhere) {
                return Err(self.held(&home.def.name, &holding, ""));
            }
        }
        self.ds.views().filter(|v| v.table == table).for_each(|v| draft.drop(Part::View(v.clone())));
        self.ds.highlights_of(table).into_iter().for_each(|one| draft.drop(Part::Highlight(one.clone())));
        self.ds.documents().filter(|d| d.table == table).for_each(|d| draft.drop(Part::Document(d.clone())));
        self.ds.stored_texts().filter(|t| t.table == table).for_each(|t| draft.drop(Part::Text(t.clone())));
        self.ds.forms().filter(|f| f.table == table).for_each(|f| draft.drop(Part::Form(f.clone())));
        automations.into_iter().for_each(|a| draft.drop(Part::Automation(a)));
        for (field, link) in &links {
            if draft.table(table)?.field(*field).is_some() {
                self.take_out(draft, table, *field)?;
            }
            if draft.table(link.to)?.field(link.back).is_some() {
                self.take_out(draft, link.to, link.back)?;
            }
        }
        draft.table(table)?.gone = Some(self.clock.now);
        let fields = draft.table(table)?.fields.iter().map(|f| Name::Field(f.id)).collect::<Vec<_>>();
        let keep: Vec<Part> = draft.peek(table).cloned().map(Part::Table).into_iter().collect();
        draft.forget(&fields);
        draft.forget(&[Name::Table(table)]);
        // The table itself stays as it was, in the bin.
        keep.into_iter().for_each(|part| draft.put(part));
        Ok(())
    }

    /// That something can't go, because of a part that needs it.
    pub(super) fn held(&self, name: &str, holding: &crate::uses::Use, along: &str) -> Fault {
        let message = format!("“{name}” can’t be removed yet: “{}” {}{along}. Change that first.", holding.name, holding.how);
        Fault::new(FaultKind::InUse, message)
    }
}

/// Puts a new table into the draft, with the fields that every table keeps and a view of all its records.
pub(super) fn new_table(draft: &mut Draft<'_>, mut def: TableDef) -> TableId {
    def.id = TableId::new(draft.number()).unwrap_or(def.id);
    def.name = def.name.trim().to_owned();
    def.one = def.one.trim().to_owned();
    let mut given: HashMap<FieldId, FieldId> = HashMap::new();
    for field in &mut def.fields {
        let id = draft.field_id();
        given.insert(field.id, id);
        field.id = id;
        field.name = field.name.trim().to_owned();
        draft.number_options(field, None);
    }
    def.standing = given.get(&def.standing).copied().unwrap_or(def.standing);
    def.beside = def.beside.and_then(|f| given.get(&f).copied());
    let kept = [
        ("Created at", Kind::CreatedAt),
        ("Created by", Kind::CreatedBy),
        ("Changed at", Kind::ChangedAt),
        ("Changed by", Kind::ChangedBy),
    ];
    for (name, kind) in kept {
        let id = draft.field_id();
        def.fields.push(FieldDef::new(id, name, kind));
    }
    let view = whole_view(draft, &def);
    let id = def.id;
    draft.put(Part::Table(def));
    draft.put(Part::View(view));
    id
}

/// A view of all records with all fields but those kept by us.
fn whole_view(draft: &mut Draft<'_>, def: &TableDef) -> View {
    let shown = def.fields.iter().filter(|f| !f.kind.is_kept_by_us());
    let fields = shown.map(|f| ShownField { field: f.id, width: f.kind.usual_width() }).collect();
    let id = ViewId::new(draft.number()).expect("numbers begin at 1");
    View::new(id, def.id, &format!("All {}", def.many()), Query { fields, ..Query::default() })
}

impl Kind {
    /// The width in which its values are usually read, in CSS pixels.
    pub fn usual_width(&self) -> u16 {
        match self.shows() {
            Kind::LongText | Kind::Checklist | Kind::Json => 280,
            Kind::Text { .. } | Kind::Link(_) | Kind::Web | Kind::Place | Kind::Email => 200,
            Kind::Range | Kind::Choices { .. } | Kind::People | Kind::DateTime | Kind::CreatedAt | Kind::ChangedAt => 170,
            Kind::Number { .. } | Kind::Percent { .. } | Kind::Rating { .. } | Kind::YesNo | Kind::Duration => 110,
            _ => 140,
        }
    }
}
