//! Why: of any value, and of any record that a condition takes or leaves, the trace of the real evaluation. Only what
//! the asker may see is in it.

use crate::{
    access::Lens,
    condition::Condition,
    formula::{Source, SourceCell, TraceStep},
    id::{FieldId, RecordId, TableId},
    schema::{FieldDef, Kind, Summary, within_sentence},
    value::{Cell, list_text},
};
use serde::{Deserialize, Serialize};

/// Most linked records that a trace lists.
const LISTED: usize = 12;

/// Why a cell holds what it does.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Why {
    pub field: String,
    /// What stands there.
    pub text: String,
    /// How it comes to stand there, in a sentence.
    pub how: String,
    /// Of a calculation: its formula, and the same with the record's values put in.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub formula: String,
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub with_values: String,
    pub steps: Vec<TraceStep>,
    pub sources: Vec<Source>,
    /// Who put the value in and when, of a field that holds its value.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub set: Option<String>,
}

/// Why a condition holds for a record, or does not: each part with what stands there.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[cfg_attr(feature = "openapi", schema(no_recursion))]
pub struct Because {
    pub holds: bool,
    /// The part in words; of several joined, whether all or any must hold.
    pub words: String,
    /// What stands there, of a single test.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub found: Option<String>,
    pub parts: Vec<Because>,
}

impl Lens<'_> {
    /// Why a cell holds what it does; none where the asker sees no such cell.
    pub fn why(&self, table: TableId, record: RecordId, field: FieldId) -> Option<Why> {
        if !self.sees(table, record) || !self.shows(table, record, field) {
            return None;
        }
        let def = self.dataset().table(table)?.def.field(field)?;
        let why = Why { field: def.name.clone(), text: self.text_at(table, record, field), ..Why::default() };
        if def.kind.is_computed() && !self.computed_is_open(table, record, field) {
            let how = if why.text.is_empty() {
                "It draws on something that is not open to you, so it is not shown."
            } else {
                "It draws on something that is not open to you; the coordinator released the figure, not its workings."
            };
            return Some(Why { how: how.into(), ..why });
        }
        Some(match &def.kind {
            Kind::Calculation { formula, .. } => {
                let trace = self.trace(formula, table, record);
                let how = match self.whole().reader(table, field).cell(record.row()) {
                    Cell::Error(error) => format!("A calculation. {}", error.sentence()),
                    _ => "A calculation.".into(),
                };
                Why { how, formula: trace.formula, with_values: trace.with_values, steps: trace.steps, sources: trace.sources, ..why }
            }
            Kind::Summary(summary) => self.why_summary(table, record, summary, why),
            Kind::Carried { links, field: carried } => self.why_carried(table, record, links, *carried, why),
            kind => Why { how: self.why_held(table, record, def, kind), ..why },
        })
    }

    fn why_held(&self, table: TableId, record: RecordId, def: &FieldDef, kind: &Kind) -> String {
        let copied = def.copies.and_then(|copies| {
            let home = self.dataset().table(table)?;
            let (link, to) = (home.def.field(copies.link)?, home.link(copies.link)?.to);
            let target = home.column(copies.link)?.links(record.row()).first().copied()?;
            // Where the link or its source is hidden, that there is one is too.
            if !self.shows(table, record, copies.link) || !self.shows(to, target, copies.field) {
                return None;
            }
            let source = self.dataset().table(to)?.def.field(copies.field)?;
            let name = self.record_name(to, target)?.name;
            let there = self.text_at(to, target, copies.field);
            let now = if there.is_empty() { String::new() } else { format!(" There it says {there} now.") };
            Some(format!(
                "Copied from “{}” of {} “{name}” when that was chosen, then free to change.{now}",
                source.name,
                within_sentence(&link.name)
            ))
        });
        copied.unwrap_or_else(|| match kind {
            Kind::Numbering { .. } => "Westerfall numbers records in the order in which they come.".into(),
            Kind::Id => "Westerfall gives each record a number when it is made, and no other record of the table ever gets it.".into(),
            Kind::CreatedAt | Kind::CreatedBy | Kind::ChangedAt | Kind::ChangedBy => "Westerfall keeps this for every record.".into(),
            _ => "It was put in.".into(),
        }) + &self.what_sets(def.id)
    }

    /// Which automations put something into a field, as their trail tells it too.
    fn what_sets(&self, field: FieldId) -> String {
        let names: Vec<String> = self.dataset().automations().filter(|a| a.on && a.sets(field)).map(|a| format!("“{}”", a.name)).collect();
        match &names[..] {
            [] => String::new(),
            [one] => format!(" The automation {one} sets it, too."),
            all => format!(" The automations {} set it, too.", crate::value::list_text(all, "and")),
        }
    }

    fn why_carried(&self, table: TableId, record: RecordId, links: &[FieldId], carried: FieldId, why: Why) -> Why {
        let mut at = (table, vec![record]);
        let mut names = Vec::new();
        let mut sources = Vec::new();
        for link in links {
            let Some((home, to)) = self.dataset().table(at.0).and_then(|t| Some((t, t.link(*link)?.to))) else { return why };
            if !at.1.iter().all(|r| self.shows(at.0, *r, *link)) {
                return Why { how: "It is carried along a link that is not open to you.".into(), ..why };
            }
            names.push(home.def.field(*link).map_or_else(String::new, |f| f.name.clone()));
            let reader = self.reader(at.0, *link);
            let linked = |r: &RecordId| if let Cell::Links(l) = reader.cell(r.row()) { l } else { &[] };
            at = (to, at.1.iter().flat_map(|r| reader.visible(linked(r)).collect::<Vec<_>>()).collect());
        }
        let Some(field) = self.dataset().table(at.0).and_then(|t| t.def.field(carried)) else { return why };
        if !at.1.iter().all(|r| self.shows(at.0, *r, carried)) {
            return Why { how: "It is carried from a field that is not open to you.".into(), ..why };
        }
        for r in at.1.iter().take(LISTED) {
            sources.extend(self.source(at.0, *r, field));
        }
        Why { how: format!("Carried from “{}” along {}.", field.name, names.join(" → ")), sources, ..why }
    }

    /// A cell that a value comes from; its name is the record's.
    fn source(&self, table: TableId, record: RecordId, field: &FieldDef) -> Option<Source> {
        let record_name = self.record_name(table, record)?.name;
        let cell = SourceCell { table, record, field: field.id, record_name, computed: field.kind.is_computed() };
        Some(Source { name: field.name.clone(), text: self.text_at(table, record, field.id), cell: Some(cell), set: None })
    }

    fn why_summary(&self, table: TableId, record: RecordId, summary: &Summary, why: Why) -> Why {
        let ds = self.dataset();
        let Some(end) = ds.end_of(table, &summary.links) else { return Why { how: "Its link is gone.".into(), ..why } };
        let Some(home) = ds.table(end) else { return why };
        let all = Summary { condition: Condition::default(), ..summary.clone() };
        let rows = ds.summed_rows(self, table, summary, record);
        let left_out = ds.summed_rows(self, table, &all, record).len() - rows.len();
        let field = summary.field.and_then(|f| home.def.field(f));
        let of = field.map_or_else(|| home.def.many(), |f| format!("{} in {}", within_sentence(&f.name), home.def.many()));
        let only = match &summary.condition {
            nothing if nothing.is_nothing() => String::new(),
            condition => format!(" where {}", condition.to_sentence(self, end)),
        };
        let counted = self.clock().customs().count_words(rows.len(), &home.def.one, &home.def.many());
        let linked = match left_out {
            0 => format!("{counted} linked here."),
            _ => format!("{counted} of the {} linked here.", rows.len() + left_out),
        };
        let how = format!("A summary: {} {of}{only}. It takes {linked}", summary.figure.words());
        // Each record by its name, with its value or what tells it apart.
        let shown = field.or_else(|| home.def.field(home.def.beside.unwrap_or(home.def.standing)));
        let by_name = |source: Source| Source { name: source.cell.as_ref().map_or_else(String::new, |c| c.record_name.clone()), ..source };
        let sources = rows.iter().take(LISTED).filter_map(|r| self.source(end, *r, shown?).map(by_name)).collect();
        let more = rows.len().saturating_sub(LISTED);
        let how = if more > 0 { format!("{how} The first {LISTED}:") } else { how };
        Why { how, sources, ..why }
    }

    /// Why a condition holds for a record, or why not; none where the asker does not see the record.
    pub fn because(&self, table: TableId, record: RecordId, condition: &Condition) -> Option<Because> {
        self.sees(table, record).then(|| self.part_because(table, record, condition))
    }

    fn part_because(&self, table: TableId, record: RecordId, condition: &Condition) -> Because {
        let holds = condition.holds(self, table, record);
        match condition {
            Condition::Test(test) => {
                let found = crate::wording::ends(self, table, &test.path, record).map(|(at, field, records)| {
                    let texts = records.iter().filter(|r| self.sees(at, **r)).map(|r| self.text_at(at, *r, field));
                    let texts: Vec<String> = texts.filter(|t| !t.is_empty()).take(LISTED).collect();
                    if texts.is_empty() { "nothing".into() } else { list_text(&texts, "and") }
                });
                Because { holds, words: test.to_sentence(self, table), found, parts: Vec::new() }
            }
            Condition::All(parts) | Condition::Any(parts) => {
                let words = if matches!(condition, Condition::All(_)) { "all of these hold" } else { "any of these holds" };
                let parts = parts.iter().map(|p| self.part_because(table, record, p)).collect();
                Because { holds, words: words.into(), found: None, parts }
            }
        }
    }
}
