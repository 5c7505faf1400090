//! Changing a field's kind: what its values become is rehearsed before it is done, and nothing typed is lost unasked.

use super::{
    Decider, Numbers, OtherSide,
    cells::Before,
    draft::Draft,
    fields::{free_name, in_order},
    tables::new_table,
};
use crate::{
    access::Lens,
    condition::Condition,
    dataset::Dataset,
    fault::{Checked, Fault, FaultKind},
    highlight::Highlight,
    history::Op,
    id::{FieldId, OptionId, RecordId, TableId},
    names::{Hold, Name, Names},
    part::Part,
    schema::{Choice, FieldDef, Hue, Kind, LIST_LIMIT, Link, TEXT_LIMIT, TableDef},
    value::{Conventions, Conversion, Customs, Value, convert, fold},
};
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, HashMap};

/// Most examples in a rehearsal, and most values that do not fit.
const SHOWN: usize = 12;
/// Most options that a conversion or an import makes of a field.
pub(crate) const OPTIONS_LIMIT: usize = 200;

/// A change of a field's kind.
#[derive(Clone, Debug)]
pub struct ChangeOfKind {
    pub table: TableId,
    pub field: FieldId,
    pub to: Target,
    pub rest: Rest,
}

/// What a field becomes.
#[derive(Clone, Debug)]
pub enum Target {
    /// Of a choice, options that values name and that are not given are made.
    Kind(Kind),
    /// A link to the records of a table that are called so in one of its fields.
    Link {
        to: TableId,
        by: FieldId,
        one: bool,
        other: OtherSide,
        /// What stands between several names in one text.
        separator: Option<String>,
    },
    /// A link to a new table, with a record for each of its values.
    Table { name: String, one_name: String, one: bool, other: OtherSide, separator: Option<String> },
}

/// The table that a field is to be linked to, and how.
struct Linking<'c> {
    /// As it stands, or will.
    to: TableDef,
    rows: usize,
    by: FieldId,
    /// Whether a record is made for each name that is not there.
    makes: bool,
    one: bool,
    other: &'c OtherSide,
    separator: Option<&'c str>,
    called: Called,
}

/// What happens to values that do not fit.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Rest {
    /// Their cells are left empty.
    Empty,
    /// The same, and a new text field keeps what stood there.
    Spare,
    /// Of a link: a record is made for each.
    Create,
}

/// What a change of kind would do.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct KindRehearsal {
    /// Cells that hold something, and of these, those that fit.
    pub filled: usize,
    pub fit: usize,
    pub examples: Vec<BeforeAfter>,
    /// Values that do not fit, the most frequent first.
    pub unfit: Vec<Unfit>,
    /// What of it can be said in a sentence: how many fit, which options or records are made on the way.
    pub says: Vec<String>,
    /// What else changes with it: *the view Open faults is no longer narrowed by it*.
    pub besides: Vec<String>,
}

/// A cell before and after.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BeforeAfter {
    pub record: RecordId,
    pub name: String,
    pub before: String,
    pub after: String,
}

/// A value that does not fit, and why.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Unfit {
    pub text: String,
    pub count: usize,
    pub why: String,
}

/// A table and field whose values a text field's values match.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct LinkProposal {
    pub to: TableId,
    pub by: FieldId,
    /// How many of the different values match, of how many.
    pub matched: usize,
    pub of: usize,
    pub separator: Option<String>,
    /// The same in words: *Sections, by Name: 12 of 14 match*.
    pub says: String,
}

/// A change of kind worked out: what is to be done, and what is to be said of it.
pub(super) struct Converted {
    pub(super) ops: Vec<Op>,
    rehearsal: KindRehearsal,
}

/// Records by what they are called in a field; none where two are called the same.
pub(crate) struct Called(HashMap<String, Option<RecordId>>);

impl Called {
    pub(crate) fn new(lens: &Lens<'_>, table: TableId, by: FieldId) -> Self {
        let mut called = HashMap::new();
        let seen = |t: &crate::dataset::Table| t.records().filter(|r| lens.sees(table, *r)).collect::<Vec<_>>();
        for record in lens.dataset().table(table).map(seen).unwrap_or_default() {
            let text = fold(lens.text_at(table, record, by).trim()).into_owned();
            if !text.is_empty() {
                called.entry(text).and_modify(|known| *known = None).or_insert(Some(record));
            }
        }
        Self(called)
    }

    /// The record of this name; none inside where two have it.
    pub(crate) fn find(&self, name: &str) -> Option<Option<RecordId>> {
        self.0.get(&*fold(name.trim())).copied()
    }

    pub(crate) fn add(&mut self, name: &str, record: RecordId) {
        self.0.insert(fold(name.trim()).into_owned(), Some(record));
    }
}

impl Dataset {
    /// What a change of kind would do, without doing it.
    ///
    /// # Errors
    /// Why it can't be done at all.
    pub fn rehearse_kind(&self, change: &ChangeOfKind, asker: crate::access::Asker, clock: &crate::Clock) -> Checked<KindRehearsal> {
        let decider = Decider::new(self, asker, clock);
        Ok(decider.change_kind(change)?.rehearsal)
    }
}

impl Lens<'_> {
    /// Tables and fields that the values of a text field name, best first.
    pub fn propose_links(&self, table: TableId, field: FieldId) -> Vec<LinkProposal> {
        let Some(home) = self.dataset().table(table) else { return Vec::new() };
        let texts: std::collections::BTreeSet<String> = home
            .records()
            .filter(|r| self.sees(table, *r))
            .map(|r| self.text_at(table, r, field))
            .filter(|t| !t.trim().is_empty())
            .collect();
        self.propose_for(texts.iter().map(String::as_str), Some(table))
    }

    /// The same for texts that are not in the tracker yet.
    pub(crate) fn propose_for<'t>(&self, texts: impl Iterator<Item = &'t str> + Clone, home: Option<TableId>) -> Vec<LinkProposal> {
        let mut found = Vec::new();
        for target in self.dataset().tables().filter(|t| self.opens(t.def.id) && Some(t.def.id) != home && t.live() > 0) {
            let names = |f: &&FieldDef| matches!(f.kind, Kind::Text { .. } | Kind::Numbering { .. } | Kind::Email);
            for by in target.def.fields.iter().filter(names) {
                let called = Called::new(self, target.def.id, by.id);
                for separator in [None, Some(", "), Some("; ")] {
                    let parts: Vec<&str> = texts.clone().flat_map(|t| split(t, separator)).collect();
                    let matched = parts.iter().filter(|part| matches!(called.find(part), Some(Some(_)))).count();
                    if matched * 4 > parts.len() {
                        let apart = separator.map_or_else(String::new, |s| format!(", several parted by “{}”", s.trim()));
                        let says = format!("{}, by {}: {matched} of {} match{apart}", target.def.name, by.name, parts.len());
                        let separator = separator.map(str::to_owned);
                        found.push(LinkProposal { to: target.def.id, by: by.id, matched, of: parts.len(), separator, says });
                    }
                }
            }
        }
        // Of two that match as well, the one that does not take texts apart.
        found.sort_by(|a, b| (b.matched * a.of).cmp(&(a.matched * b.of)).then(a.separator.cmp(&b.separator)));
        found
    }
}

/// The parts of a text that names several things; without a separator, the text.
pub(crate) fn split<'t>(text: &'t str, separator: Option<&str>) -> Vec<&'t str> {
    let trimmed = |part: &'t str| Some(part.trim()).filter(|p| !p.is_empty());
    // A separator of blanks alone is meant as it stands: the line's end.
    match separator.map(|s| if s.trim().is_empty() { s } else { s.trim() }).filter(|s| !s.is_empty()) {
        Some(separator) => text.split(separator).filter_map(trimmed).collect(),
        None => trimmed(text).into_iter().collect(),
    }
}

/// A cell on its way: what it was as people read it, and what it becomes.
struct Turned {
    record: RecordId,
    before: Value,
    text: String,
    after: Result<Value, String>,
}

impl Decider<'_> {
    pub(super) fn change_kind(&self, change: &ChangeOfKind) -> Checked<Converted> {
        self.may_build()?;
        let ChangeOfKind { table, field, .. } = *change;
        let home = self.ds.table(table).filter(|_| self.lens.opens(table)).ok_or_else(|| Fault::not_found("table"))?;
        // What the values are is told on the way, so it takes the right to read them.
        let readable = |f: &&FieldDef| self.lens.reads(table, f.id);
        let def = home.def.field(field).filter(readable).ok_or_else(|| Fault::not_found("field"))?;
        if matches!(def.kind, Kind::Link(Link { holds: false, .. })) || def.kind.is_kept_by_us() {
            return Err(
                Fault::new(FaultKind::BadRule, format!("“{}” can’t become another kind: change the link’s first side.", def.name)).into()
            );
        }
        if matches!(&change.to, Target::Kind(kind) if *kind == def.kind) {
            return Err(Fault::new(FaultKind::BadRule, format!("“{}” is of the kind “{}” already.", def.name, def.kind.name())).into());
        }
        let mut draft = Draft::new(self.ds);
        let mut made = Vec::new();
        let mut rows = Vec::new();
        let (kind, turned) = match &change.to {
            Target::Kind(kind) => self.turn(&mut draft, table, def, kind, &mut made)?,
            Target::Link { .. } | Target::Table { .. } => {
                let linking = self.linking_to(&mut draft, change)?;
                self.turn_into_links(&mut draft, linking, (table, def), &mut made, &mut rows)?
            }
        };
        self.unlink(&mut draft, table, def)?;
        let at = draft.table(table)?.fields.iter_mut().find(|f| f.id == field).ok_or_else(|| Fault::not_found("field"))?;
        at.kind = kind.clone();
        at.preset = None;
        at.copies = None;
        at.offers = crate::schema::Offers::default();
        let spare = self.spare(&mut draft, table, def, change, &turned)?;
        let besides = self.settle_rest(&mut draft, table, field)?;
        let mut rehearsal = KindRehearsal { besides, ..self.told(&turned, table, &kind) };
        rehearsal.says.extend(made_in_words(&made, self.clock.customs()));
        let leaving = turned.iter().map(|t| (t.record, t.before.clone(), Value::Empty)).collect();
        let coming = turned.into_iter().filter_map(|t| t.after.ok().filter(|v| *v != Value::Empty).map(|v| (t.record, Value::Empty, v)));
        let coming: Vec<_> = coming.collect();
        let mut cells = Vec::new();
        if !matches!(def.kind, Kind::Calculation { .. } | Kind::Summary(_) | Kind::Carried { .. } | Kind::Button { .. }) {
            cells.push(Op::Fill { table, field, cells: leaving });
        }
        cells.push(Op::Fill { table, field, cells: coming });
        cells.extend(spare);
        let parts = draft.ops();
        self.stands_after(&parts)?;
        // Records that are linked come before what links to them, and the table that they are in before them.
        let known = |part: &Part| self.ds.part_at(part.key().0, part.key().1).is_some();
        let is_new =
            |op: &Op| matches!(op, Op::Put { before: None, after: Some(part) } if matches!(**part, Part::Table(_)) && !known(part));
        let (begun, parts): (Vec<Op>, Vec<Op>) = parts.into_iter().partition(is_new);
        let ops = in_order(cells.into_iter().filter(|op| !matches!(op, Op::Fill { cells, .. } if cells.is_empty())).collect(), parts);
        Ok(Converted { ops: begun.into_iter().chain(rows).chain(ops).collect(), rehearsal })
    }

    /// What each cell becomes as another kind; options that values name are made on the way.
    fn turn(
        &self,
        draft: &mut Draft<'_>,
        table: TableId,
        def: &FieldDef,
        kind: &Kind,
        made: &mut Vec<String>,
    ) -> Checked<(Kind, Vec<Turned>)> {
        if def.kind.shows().converts_to(kind) == Conversion::Never {
            return Err(Fault::new(FaultKind::WrongKind, def.kind.can_not_become(kind)).at("/kind").into());
        }
        let mut target = FieldDef::new(def.id, &def.name, kind.clone());
        draft.number_options(&mut target, None);
        let cells = self.filled(table, def);
        if let Kind::Choice { options, .. } | Kind::Choices { options } = &mut target.kind {
            let several = matches!(kind, Kind::Choices { .. });
            let names = cells.iter().flat_map(|(_, _, text)| split(text, several.then_some(",")));
            for name in missing(names, options)? {
                let id = OptionId::new(draft.number()).ok_or_else(|| Fault::not_found("option"))?;
                let hue = def.kind.options().iter().find(|o| o.name == name).map_or_else(|| Hue::nth(options.len()), |o| o.hue);
                if !def.kind.options().iter().any(|o| o.name == name) {
                    made.push(name.clone());
                }
                options.push(Choice { id, name, hue, under: None });
            }
        }
        let with = Conventions { locale: self.ds.tracker.locale, people: &self.ds.people, clock: self.clock };
        let turned = cells.into_iter().map(|(record, before, text)| {
            let after = convert(before.as_cell(), &text, def.kind.shows(), &target.kind, with)
                .and_then(|value| self.checked(value.tidy(), Before::NOTHING, &target, false))
                .map_err(|fault| fault.message);
            Turned { record, before, text, after }
        });
        let turned = turned.collect();
        Ok((target.kind, turned))
    }

    /// The table that a field is to be linked to; where it is a new one, it is begun in the draft.
    fn linking_to<'c>(&self, draft: &mut Draft<'_>, change: &'c ChangeOfKind) -> Checked<Linking<'c>> {
        match &change.to {
            Target::Kind(_) => Err(Fault::not_found("table").into()),
            Target::Link { to, by, one, other, separator } => {
                let target = self.ds.table(*to).filter(|_| self.lens.opens(*to)).ok_or_else(|| Fault::not_found("table"))?;
                let separator = separator.as_deref().filter(|_| !one);
                let called = Called::new(&self.lens, *to, *by);
                let makes = change.rest == Rest::Create;
                Ok(Linking { to: (*target.def).clone(), rows: target.rows(), by: *by, makes, one: *one, other, separator, called })
            }
            Target::Table { name, one_name, one, other, separator } => {
                let naming = FieldDef { required: true, ..FieldDef::new(FieldId::FIRST, "Name", Kind::Text { limit: TEXT_LIMIT }) };
                let id = new_table(draft, TableDef::new(TableId::FIRST, name, one_name, FieldId::FIRST, vec![naming]));
                let to = draft.table(id)?.clone();
                let (by, separator, called) = (to.standing, separator.as_deref().filter(|_| !one), Called(HashMap::new()));
                Ok(Linking { to, rows: 0, by, makes: true, one: *one, other, separator, called })
            }
        }
    }

    /// What each text names in another table; with the other side of the link in the draft.
    fn turn_into_links(
        &self,
        draft: &mut Draft<'_>,
        linking: Linking<'_>,
        (table, def): (TableId, &FieldDef),
        made: &mut Vec<String>,
        rows: &mut Vec<Op>,
    ) -> Checked<(Kind, Vec<Turned>)> {
        let Linking { to, rows: there, by, makes, one, other, separator, mut called } = linking;
        let by_def = to.field(by).ok_or_else(|| Fault::not_found("field"))?;
        let cells = self.filled(table, def);
        if makes {
            if !by_def.kind.takes_input() {
                let message = format!("Records can’t be made by “{}”: Westerfall fills it in by itself.", by_def.name);
                return Err(Fault::new(FaultKind::BadRule, message).at("/by").into());
            }
            for (_, _, text) in &cells {
                for name in split(text, separator).into_iter().filter(|n| n.chars().count() <= TEXT_LIMIT) {
                    if called.find(name).is_none() {
                        called.add(name, RecordId::at_row(there + made.len()));
                        made.push(name.to_owned());
                    }
                }
            }
            let values = made.iter().map(|name| Value::text(name)).collect();
            rows.extend(self.rows_of(&to, there, made.len(), vec![(by, values)], &mut Numbers::default()));
        }
        let turned = cells.into_iter().map(|(record, before, text)| {
            let mut links = Vec::new();
            let mut unknown = None;
            for name in split(&text, separator) {
                match called.find(name) {
                    Some(Some(found)) if !links.contains(&found) => links.push(found),
                    Some(Some(_)) => {}
                    Some(None) => unknown = Some(format!("Two {} are called “{name}”.", to.many())),
                    None => unknown = Some(format!("No {} is called “{name}”.", to.one)),
                }
            }
            links.truncate(if one { 1 } else { LIST_LIMIT });
            // What is only half known is not taken apart: the whole text goes the way of what does not fit.
            Turned { record, before, text, after: unknown.map_or(Ok(Value::Links(links).tidy()), Err) }
        });
        let turned = turned.collect();
        let back = draft.field_id();
        let kind = Kind::Link(Link { to: table, back: def.id, one: other.one, holds: false });
        let other_def = draft.table(to.id)?;
        let name = free_name(other_def, other.name.trim());
        let at = other_def.fields.iter().position(|f| f.kind.is_kept_by_us()).unwrap_or(other_def.fields.len());
        other_def.fields.insert(at, FieldDef::new(back, &name, kind));
        Ok((Kind::Link(Link { to: to.id, back, one, holds: true }), turned))
    }

    /// A link that becomes something else goes from both sides.
    fn unlink(&self, draft: &mut Draft<'_>, table: TableId, def: &FieldDef) -> Result<(), Fault> {
        let Kind::Link(link) = def.kind else { return Ok(()) };
        let holding = self.ds.uses(table, def.id).into_iter().find(|u| u.holds && u.number != link.back.get());
        if let Some(holding) = holding {
            let message = format!("“{}” can’t become another kind yet: “{}” {}. Change that first.", def.name, holding.name, holding.how);
            return Err(Fault::new(FaultKind::InUse, message));
        }
        self.take_out(draft, link.to, link.back)?;
        draft.table(link.to)?.binned.retain(|b| b.field.id != link.back);
        Ok(())
    }

    /// Every cell of a field that holds something, with how people read it.
    fn filled(&self, table: TableId, def: &FieldDef) -> Vec<(RecordId, Value, String)> {
        let Some(home) = self.ds.table(table) else { return Vec::new() };
        let reader = self.lens.whole().reader(table, def.id);
        let cells = (0..home.rows()).map(RecordId::at_row).filter(|r| home.meta(*r).is_some()).filter_map(|record| {
            let cell = reader.cell(record.row());
            (!cell.is_empty()).then(|| (record, cell.to_value(), self.lens.whole().cell_text(table, def.id, cell)))
        });
        cells.collect()
    }

    /// A text field that keeps what did not fit, where that is wanted and something does not.
    fn spare(
        &self,
        draft: &mut Draft<'_>,
        table: TableId,
        def: &FieldDef,
        change: &ChangeOfKind,
        turned: &[Turned],
    ) -> Result<Option<Op>, Fault> {
        let unfit: Vec<_> = turned.iter().filter(|t| t.after.is_err()).collect();
        if change.rest != Rest::Spare || unfit.is_empty() {
            return Ok(None);
        }
        let id = draft.field_id();
        let own = draft.table(table)?;
        let name = free_name(own, &format!("{} as it was", def.name));
        let at = own.fields.iter().position(|f| f.id == def.id).map_or(own.fields.len(), |at| at + 1);
        own.fields.insert(at, FieldDef::new(id, &name, Kind::LongText));
        let cells = unfit.into_iter().map(|t| (t.record, Value::Empty, Value::text(&t.text))).collect();
        Ok(Some(Op::Fill { table, field: id, cells }))
    }

    /// What names the field must fit its new kind: views are narrowed by it no more, anything else holds the change up.
    fn settle_rest(&self, draft: &mut Draft<'_>, table: TableId, field: FieldId) -> Checked<Vec<String>> {
        let mut after = self.ds.clone();
        let changed = draft.table(table)?.clone();
        after.load_part(&Part::Table(changed));
        let mut besides = Vec::new();
        let standing = draft.standing();
        let views = standing.iter().filter_map(|part| if let Part::View(view) = part { Some(view) } else { None });
        for view in views.filter(|v| v.query.check(self.ds, v.table).is_ok()) {
            if view.query.check(&after, view.table).is_err() {
                let mut view = view.clone();
                crate::condition::condition_refs(&mut view.query.condition, Hold::Shows(""), &mut |name, _| {
                    (name != Name::Field(field)).then_some(name)
                });
                view.query.tallies.retain(|t| t.field != field);
                besides.push(format!("The view “{}” is no longer narrowed or totalled by it.", view.name));
                draft.put(Part::View(view));
            }
        }
        let highlights = standing.iter().filter_map(|part| if let Part::Highlight(one) = part { Some(one) } else { None });
        for one in highlights.filter(|one| one.condition.names(field) && one.condition.check(&after, one.table).is_err()) {
            besides.push("A highlight that asks for it no longer does anything: say anew when it holds.".to_owned());
            draft.put(Part::Highlight(Highlight { condition: Condition::never(), ..one.clone() }));
        }
        let no_longer = |name: &str| Fault::new(FaultKind::InUse, format!("“{name}” needs this field as it is. Change that first."));
        for other in after.tables() {
            for def in &other.def.fields {
                if let Kind::Calculation { formula, .. } = &def.kind
                    && formula.fields().contains(&field)
                    && !formula.result_type(&after, other.def.id).1.is_empty()
                {
                    return Err(no_longer(&def.name).into());
                }
                if let Kind::Summary(summary) = &def.kind
                    && (summary.field == Some(field) || summary.condition.names(field))
                {
                    let end = after.end_of(other.def.id, &summary.links);
                    let kind = end.and_then(|end| after.summary_kind(end, summary.figure, summary.field));
                    let condition = end.is_some_and(|end| summary.condition.check(&after, end).is_ok());
                    if kind.as_ref() != Some(&*summary.shows) || !condition {
                        return Err(no_longer(&def.name).into());
                    }
                }
                if let Kind::Choice { on: Some(on), .. } = &def.kind
                    && *on == field
                {
                    return Err(no_longer(&def.name).into());
                }
            }
        }
        if let Some(role) = after.roles().find(|r| r.check(self.ds).is_ok() && r.check(&after).is_err()) {
            return Err(no_longer(&role.name).into());
        }
        if let Some(automation) = after.automations().find(|a| a.check(self.ds).is_ok() && a.check(&after).is_err()) {
            return Err(no_longer(&automation.name).into());
        }
        for form in after.forms().filter(|f| f.check(self.ds).is_ok() && f.check(&after).is_err()) {
            let form = form.without(&|name| name == Name::Field(field));
            besides.push(format!("The form “{}” asks for it no more.", form.title));
            draft.put(Part::Form(form));
        }
        Ok(besides)
    }

    fn told(&self, turned: &[Turned], table: TableId, kind: &Kind) -> KindRehearsal {
        let mut unfit: BTreeMap<&str, (usize, &str)> = BTreeMap::new();
        // Every record is counted; values are shown only of those in sight.
        let seen = |turn: &&Turned| self.lens.sees(table, turn.record);
        for turn in turned.iter().filter(seen) {
            if let Err(why) = &turn.after {
                unfit.entry(&turn.text).or_insert((0, why)).0 += 1;
            }
        }
        let mut list: Vec<Unfit> =
            unfit.into_iter().map(|(text, (count, why))| Unfit { text: text.into(), count, why: why.into() }).collect();
        list.sort_by_key(|u| std::cmp::Reverse(u.count));
        let fit = turned.iter().filter(|t| t.after.is_ok()).count();
        list.truncate(SHOWN);
        let after = |value: &Value, text: &str| match (value, kind) {
            // A record that is only about to be made has no name yet.
            (Value::Links(_), _) => text.to_owned(),
            _ => self.lens.whole().text_as(kind, value.as_cell(), false),
        };
        // Those that change how they are read first; they are what one wants to see.
        let mut examples: Vec<BeforeAfter> = Vec::new();
        let mut same: Vec<BeforeAfter> = Vec::new();
        for turn in turned.iter().filter(seen) {
            let Ok(value) = &turn.after else { continue };
            if examples.len() >= SHOWN || same.len() + examples.len() >= 4 * SHOWN {
                break;
            }
            let name = self.lens.record_name(table, turn.record).map(|n| n.name).unwrap_or_default();
            let example = BeforeAfter { record: turn.record, name, before: turn.text.clone(), after: after(value, &turn.text) };
            if example.before == example.after { same.push(example) } else { examples.push(example) }
        }
        examples.extend(same);
        examples.truncate(SHOWN);
        let says = vec![format!("{fit} of {}.", self.clock.customs().count_words(turned.len(), "value fits", "values fit"))];
        KindRehearsal { filled: turned.len(), fit, says, examples, unfit: list, ..KindRehearsal::default() }
    }
}

/// What is made on the way, the first few by name.
fn made_in_words(made: &[String], customs: Customs) -> Option<String> {
    let more = if made.len() > SHOWN { ", …" } else { "" };
    let named = made.iter().take(SHOWN).map(String::as_str).collect::<Vec<_>>().join(", ");
    let counted = customs.count_words(made.len(), "is made on the way", "are made on the way");
    (!made.is_empty()).then(|| format!("{counted}: {named}{more}."))
}

/// The names that no option has yet, in the order in which they first stand.
pub(crate) fn missing<'t>(names: impl Iterator<Item = &'t str>, options: &[Choice]) -> Result<Vec<String>, Fault> {
    let mut seen: std::collections::HashSet<String> = options.iter().map(|o| fold(&o.name).into_owned()).collect();
    let mut missing = Vec::new();
    for name in names.map(str::trim).filter(|n| !n.is_empty() && n.chars().count() <= crate::schema::NAME_LIMIT) {
        if seen.insert(fold(name).into_owned()) {
            missing.push(name.to_owned());
            if missing.len() + options.len() > OPTIONS_LIMIT {
                let message = format!("That would make more than {OPTIONS_LIMIT} options. Make it text, or a link to a table of its own.");
                return Err(Fault::new(FaultKind::TooLong, message).at("/kind"));
            }
        }
    }
    Ok(missing)
}
