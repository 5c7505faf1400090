//! Which records a link offers to be picked, and what is said of one that is not there yet.

use crate::{
    access::Lens,
    dataset::RecordName,
    id::{FieldId, RecordId, TableId},
    schema::{FieldDef, Kind},
    value::{Cell, contains_folded, fold, natural_cmp},
};
use serde::{Deserialize, Serialize};

/// Most records that are offered at once.
const OFFERED: usize = 30;
/// Most names that are offered at once to people outside.
const OFFERED_OUTSIDE: usize = 20;
/// Most near-doubles that are named.
const NEAR: usize = 5;
/// How alike two names must be to be taken for one another, from 0 to 1.
const ALIKE: f64 = 0.78;

/// What a picker shows for what was typed.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Offered {
    pub names: Vec<RecordName>,
    /// Records that are called nearly so, where none is called exactly so.
    pub near: Vec<RecordName>,
    /// Whether a record of this name could be made: none is called so, and the asker may add there.
    pub makes: bool,
    /// The fields that have to be filled in to make one, beside its name.
    pub asks: Vec<FieldId>,
}

impl Lens<'_> {
    /// The records that a link offers for what was typed; `record`: the one being edited, where it is there already.
    pub fn offered(&self, table: TableId, field: FieldId, record: Option<RecordId>, typed: &str) -> Offered {
        let Some((def, to)) = self.link_def(table, field) else { return Offered::default() };
        let Some(target) = self.dataset().table(to) else { return Offered::default() };
        // A record that is there may be handed to others; a new one is to be in sight of whoever adds it.
        let reaches = if record.is_none() { self.links_of_adding(table, field) } else { Vec::new() };
        let allowed = |r: RecordId| {
            self.may_link(table, def, record, r) && (reaches.is_empty() || reaches.iter().any(|reach| reach.holds(self.whole(), to, r)))
        };
        let searched = self.search_called(to, def.offers.named, typed, usize::MAX);
        let names: Vec<RecordName> = searched.into_iter().filter(|n| allowed(n.id)).take(OFFERED).collect();
        let wanted = fold(typed.trim()).into_owned();
        let is_called = |n: &RecordName| fold(&n.name) == wanted || self.record_name(to, n.id).is_some_and(|own| fold(&own.name) == wanted);
        let exact = names.iter().any(is_called);
        let near = if wanted.is_empty() || exact { Vec::new() } else { self.alike(to, &wanted, &names) };
        let standing = target.def.field(target.def.standing);
        let makes = !wanted.is_empty()
            && !exact
            && self.adds(to)
            && standing.is_some_and(|f| matches!(f.kind, Kind::Text { .. } | Kind::LongText | Kind::Email) && self.adds_with(to, f.id));
        let asks = |f: &&FieldDef| f.required && f.id != target.def.standing && f.kind.takes_input() && f.preset.is_none();
        let asks = if makes { target.def.fields.iter().filter(asks).map(|f| f.id).collect() } else { Vec::new() };
        Offered { near: near.into_iter().filter(|n| allowed(n.id)).collect(), names, makes, asks }
    }

    fn link_def(&self, table: TableId, field: FieldId) -> Option<(&FieldDef, TableId)> {
        let def = self.dataset().table(table)?.def.field(field).filter(|f| self.reads(table, f.id))?;
        match def.kind {
            Kind::Link(link) if self.opens(link.to) => Some((def, link.to)),
            _ => None,
        }
    }

    /// Whether a link of a record may name another, by what its field offers.
    pub(crate) fn may_link(&self, table: TableId, def: &FieldDef, record: Option<RecordId>, other: RecordId) -> bool {
        let Kind::Link(link) = def.kind else { return false };
        let whole = self.whole();
        let same = |theirs: FieldId, ours: FieldId| {
            let own = record.map(|r| whole.reader(table, ours).cell(r.row()).to_value());
            // A record that says nothing yet rules nothing out.
            own.is_none_or(|own| own.as_cell() == Cell::Empty || whole.reader(link.to, theirs).cell(other.row()).to_value() == own)
        };
        def.offers.same.iter().all(|s| same(s.theirs, s.ours))
            && (def.offers.condition.is_nothing() || def.offers.condition.holds(whole, link.to, other))
    }

    /// Names of records that fit, by words typed in any order: what people outside are offered, and nothing else of the records.
    pub(crate) fn names_offered(
        &self,
        table: TableId,
        search: &str,
        fits: impl Fn(RecordId) -> bool,
        name: impl Fn(RecordId) -> Option<String>,
    ) -> Vec<RecordName> {
        let Some(home) = self.dataset().table(table) else { return Vec::new() };
        let folded = fold(search.trim());
        let words: Vec<&str> = folded.split_whitespace().collect();
        let named = home.records().filter_map(|r| Some((r, name(r)?)));
        let searched = named.filter(|(_, name)| words.iter().all(|w| contains_folded(name, w))).filter(|(r, _)| fits(*r));
        let mut names: Vec<RecordName> = searched.map(|(id, name)| RecordName { id, name, beside: String::new() }).collect();
        names.sort_by(|a, b| natural_cmp(&a.name, &b.name));
        names.truncate(OFFERED_OUTSIDE);
        names
    }

    /// Whether the page at which the asker is offers a record for a link. `record`: the one with the link; none: a new one.
    pub(crate) fn page_offers(&self, table: TableId, def: &FieldDef, record: Option<RecordId>, other: RecordId) -> bool {
        let (Some(page), Kind::Link(link)) = (self.page().and_then(|page| self.dataset().page(page)), &def.kind) else { return false };
        let mut parts = page.records().filter(|part| part.table == table && part.changes.contains(&def.id));
        self.dataset().table(link.to).is_some_and(|home| home.is_live(other))
            && parts.any(|part| part.offers.get(&def.id).is_none_or(|from| from.is_nothing() || from.holds(self.whole(), link.to, other)))
            && self.may_link(table, def, record, other)
    }

    fn alike(&self, table: TableId, wanted: &str, known: &[RecordName]) -> Vec<RecordName> {
        let records = self.dataset().table(table).into_iter().flat_map(|t| t.records().collect::<Vec<_>>());
        let mut found: Vec<(f64, RecordName)> = records
            .filter_map(|r| self.record_name(table, r))
            .filter(|n| !known.iter().any(|k| k.id == n.id))
            .map(|n| (strsim::normalized_damerau_levenshtein(&fold(&n.name), wanted), n))
            .filter(|(alike, _)| *alike >= ALIKE)
            .collect();
        found.sort_by(|a, b| b.0.total_cmp(&a.0));
        found.into_iter().take(NEAR).map(|(_, name)| name).collect()
    }

    /// Of copied values of a record, those that differ now from where they came from, with what stands there, as people
    /// read it. What is not in reach is not compared.
    pub fn moved_on(&self, table: TableId, record: RecordId) -> Vec<(FieldId, String)> {
        let Some(home) = self.dataset().table(table) else { return Vec::new() };
        let differs = |f: &FieldDef| {
            let copies = f.copies.filter(|c| self.shows(table, record, f.id) && self.shows(table, record, c.link))?;
            let link = home.link(copies.link)?;
            let Cell::Links([target, ..]) = self.reader(table, copies.link).cell(record.row()) else { return None };
            let target = *target;
            if !self.shows(link.to, target, copies.field) {
                return None;
            }
            let source = self.reader(link.to, copies.field).cell(target.row()).to_value();
            let own = self.reader(table, f.id).cell(record.row()).to_value();
            (source != own).then(|| (f.id, self.text_at(link.to, target, copies.field)))
        };
        if !self.sees(table, record) {
            return Vec::new();
        }
        home.def.fields.iter().filter_map(differs).collect()
    }
}
