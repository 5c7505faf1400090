//! The picture of a tracker, computed: tables laid out in the direction in which work flows, what feeds them, what goes
//! out of them; and the loose ends.

use crate::{
    access::{Asker, Lens},
    id::{AutomationId, FieldId, FormId, PageId, PersonId, RecordId, TableId},
    people::Actor,
    schema::{FieldDef, Kind},
    value::{Cell, list_text},
};
use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// How far back *this week* goes.
const WEEK: SignedDuration = SignedDuration::from_secs(7 * 24 * 3_600);

/// A tracker's picture, as far as it is open to the asker.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Groundplan {
    pub tables: Vec<Plate>,
    pub links: Vec<PlanLink>,
    pub forms: Vec<Inlet>,
    pub automations: Vec<Outlet>,
    /// Pages that are shared with people outside, for those who let people in.
    pub pages: Vec<PageOutlet>,
    /// What there is: *5 tables with 3,214 records.*
    pub says: String,
    pub ends: Vec<LooseEnd>,
    /// *2 loose ends wait*; empty where none does.
    pub ends_say: String,
}

/// A table on the plan.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Plate {
    pub id: TableId,
    pub name: String,
    pub heading: String,
    pub count: usize,
    /// Records that came in within seven days.
    pub week: usize,
    /// The same in words: *3 faults*; empty where none did.
    pub came: String,
    /// Its column from the left and its place in it, from 0: what links to others stands left of them.
    pub column: usize,
    pub place: usize,
    /// What its access says: the roles that see it.
    pub seen_by: Vec<String>,
}

/// A link between two tables.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PlanLink {
    pub from: TableId,
    pub to: TableId,
    pub name: String,
}

/// A form that feeds a table.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Inlet {
    pub form: FormId,
    pub title: String,
    pub table: TableId,
    pub open: bool,
    pub week: usize,
}

/// An automation, and where its messages go.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Outlet {
    pub automation: AutomationId,
    pub name: String,
    pub table: TableId,
    pub on: bool,
    pub to: String,
}

/// A shared page, and whom it lets in.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PageOutlet {
    pub page: PageId,
    pub title: String,
    /// The tables whose records it shows.
    pub tables: Vec<TableId>,
    /// Whether it can be come to today.
    pub open: bool,
    /// *1 named address*.
    pub to: String,
}

/// Something that is broken or was forgotten.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct LooseEnd {
    pub sort: EndSort,
    /// In words.
    pub words: String,
    pub count: usize,
    /// The cell to begin with; none where it is of no record.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub at: Option<EndAt>,
}

/// Where a loose end can be taken up: the first of its cells.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct EndAt {
    pub table: TableId,
    pub field: FieldId,
    pub record: RecordId,
}

/// Sorts of loose ends.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum EndSort {
    /// A part that was kept can't be read.
    Unreadable,
    /// A formula has no value.
    Error,
    /// A link names a record that was removed.
    Removed,
    /// Nothing stands in a field that is required.
    Missing,
    /// A name that was given for a person fits nobody, or several.
    Unsettled,
    /// Somebody of a role that speaks of *my record* has none, or several, so that the role gives them nothing there.
    Nobody,
    /// A role that can't be decided any more: it gives nothing where it names what is gone.
    Undecided,
    /// An automation that changes records and acts for nobody who may.
    Unowned,
    /// Messages of an automation that did not arrive.
    Lost,
}

impl Lens<'_> {
    /// The picture of the tracker. `lost`: how many messages of which automations did not arrive.
    pub fn groundplan(&self, lost: &[(AutomationId, usize)]) -> Groundplan {
        let a_week_ago = self.clock().now.saturating_sub(WEEK).unwrap_or(self.clock().now);
        let ds = self.dataset();
        let open: Vec<TableId> = ds.tables().map(|t| t.def.id).filter(|t| self.opens(*t)).collect();
        let held = |t: &TableId| {
            let fields = ds.table(*t).map(|t| &t.def.fields[..]).unwrap_or_default();
            let link = |f: &FieldDef| match f.kind {
                Kind::Link(link) if link.holds && self.reads(*t, f.id) && open.contains(&link.to) => Some((link.to, f.name.clone())),
                _ => None,
            };
            fields.iter().filter_map(link).collect::<Vec<_>>()
        };
        let links: Vec<PlanLink> =
            open.iter().flat_map(|from| held(from).into_iter().map(|(to, name)| PlanLink { from: *from, to, name })).collect();
        let columns = columns(&open, &links);
        let mut places: BTreeMap<usize, usize> = BTreeMap::new();
        let tables = in_columns(&open, &columns, &links).into_iter().filter_map(|id| {
            let def = &ds.table(id)?.def;
            let column = columns.get(&id).copied().unwrap_or(0);
            let place = places.entry(column).or_insert(0);
            *place += 1;
            let week = self.came_since(id, a_week_ago, None);
            Some(Plate {
                id,
                name: def.name.clone(),
                heading: def.heading.clone(),
                count: self.count(id),
                week,
                came: if week > 0 { self.clock().customs().count_words(week, &def.one, &def.many()) } else { String::new() },
                column,
                place: *place - 1,
                seen_by: if self.is_steward() { self.roles_that_see(id) } else { Vec::new() },
            })
        });
        let tables: Vec<Plate> = tables.collect();
        let forms = ds.forms().filter(|f| self.is_within(f.table)).map(|f| Inlet {
            form: f.id,
            title: f.title.clone(),
            table: f.table,
            open: f.open && ds.tracker.stage.is_open(),
            week: self.came_since(f.table, a_week_ago, Some(f.id)),
        });
        let automations = ds.automations().filter(|a| self.builds() && self.opens(a.table)).map(|a| Outlet {
            automation: a.id,
            name: a.name.clone(),
            table: a.table,
            on: a.on,
            to: a.does(self),
        });
        let pages = ds.pages().filter(|_| self.is_steward()).map(|page| {
            let mut tables: Vec<TableId> = page.records().map(|records| records.table).collect();
            tables.dedup();
            let open = ds.tracker.stage.is_open() && page.is_open_on(self.clock().today());
            PageOutlet { page: page.id, title: page.title.clone(), tables, open, to: page.lets_in(self.clock().customs()) }
        });
        let mut ends = self.loose_ends();
        ends.extend(self.lost_ends(lost));
        let records = self.clock().customs().count_words(tables.iter().map(|t| t.count).sum(), "record", "records");
        Groundplan {
            says: format!("{} with {records}.", self.clock().customs().count_words(tables.len(), "table", "tables")),
            ends_say: if ends.is_empty() {
                String::new()
            } else {
                self.clock().customs().count_words(ends.len(), "loose end waits", "loose ends wait")
            },
            forms: forms.collect(),
            automations: automations.collect(),
            pages: pages.collect(),
            links,
            ends,
            tables,
        }
    }

    /// How many records in sight came since a moment; by a form, where one is given.
    pub fn came_since(&self, table: TableId, since: Timestamp, form: Option<FormId>) -> usize {
        let Some(home) = self.dataset().table(table) else { return 0 };
        let by = |who: Actor| form.is_none_or(|form| who == Actor::Form(form));
        let came = |r: &RecordId| home.meta(*r).is_some_and(|m| m.created_at > since && by(m.created_by));
        home.records().filter(|r| came(r) && self.sees(table, *r)).count()
    }

    fn roles_that_see(&self, table: TableId) -> Vec<String> {
        let sees = |role: &&crate::access::Role| {
            role.rights(table).look != crate::access::Reach::None && role.holders(&self.dataset().people).next().is_some()
        };
        self.dataset().all_roles().filter(sees).map(|r| r.name.clone()).collect()
    }

    /// What is broken or was forgotten, as far as it is in sight.
    pub fn loose_ends(&self) -> Vec<LooseEnd> {
        let ds = self.dataset();
        let mut ends = Vec::new();
        for table in ds.tables().filter(|t| self.opens(t.def.id)) {
            for field in table.def.fields.iter().filter(|f| self.reads(table.def.id, f.id)) {
                ends.extend(self.ends_of(table, field));
            }
        }
        // For those who may do something about it; what it was, nobody can tell any more.
        let set_aside = ds.set_aside().iter().filter(|_| self.builds());
        ends.extend(set_aside.map(|part| LooseEnd {
            sort: EndSort::Unreadable,
            words: format!("a {} (number {}) that was kept can’t be read, and is set aside", part.sort, part.number),
            count: 1,
            at: None,
        }));
        if self.builds() {
            ends.extend(self.ends_of_automations());
        }
        if self.is_steward() {
            ends.extend(self.ends_of_roles());
        }
        ends
    }

    /// Messages that did not arrive lately, by the automation of which they are: for those who may send them again.
    pub fn lost_ends(&self, lost: &[(AutomationId, usize)]) -> Vec<LooseEnd> {
        let end = |(id, count): &(AutomationId, usize)| {
            let automation = self.dataset().automation(*id).filter(|one| self.opens(one.table))?;
            let messages = self.clock().customs().count_words(*count, "message", "messages");
            let words = format!("{messages} of the automation {} did not arrive: send them again there, or see why not", automation.name);
            Some(LooseEnd { sort: EndSort::Lost, words, count: *count, at: None })
        };
        if self.builds() { lost.iter().filter_map(end).collect() } else { Vec::new() }
    }

    /// Automations that run and can't do what they say, for those who can say it again.
    fn ends_of_automations(&self) -> Vec<LooseEnd> {
        let ds = self.dataset();
        let acts = |person: PersonId| !ds.people.has_left(person) && Asker::Person(person).may_look_at(ds);
        let unowned = ds.automations().filter(|a| a.on && self.opens(a.table) && a.writes() && !a.acts_for.is_some_and(acts));
        let end = |automation: &crate::automation::Automation| {
            let words = match automation.acts_for {
                Some(person) => {
                    format!("the automation {} acts for {}, who may not work here any more", automation.name, ds.people.name(person))
                }
                None => format!("the automation {} acts for nobody, and changes nothing", automation.name),
            };
            LooseEnd { sort: EndSort::Unowned, words, count: 1, at: None }
        };
        unowned.map(end).collect()
    }

    /// Roles that give less than they say, for those who can mend them.
    fn ends_of_roles(&self) -> Vec<LooseEnd> {
        let ds = self.dataset();
        let mut ends = Vec::new();
        let people_table = ds.people_table().map(|(table, _)| table);
        for role in ds.roles() {
            if role.check(ds).is_err() {
                let words = format!("the role {} names what is not there any more, and gives nothing by it", role.name);
                ends.push(LooseEnd { sort: EndSort::Undecided, words, count: 1, at: None });
            }
            let Some(people) = people_table.filter(|_| role.speaks_of_my_record()) else { continue };
            for (has, words) in [(0, "no"), (2, "several")] {
                let of: Vec<&str> = role
                    .holders(&ds.people)
                    .filter(|person| ds.records_of(person.id).take(2).count() == has)
                    .map(|person| person.name.as_str())
                    .collect();
                if of.is_empty() {
                    continue;
                }
                let verb = if of.len() == 1 { "has" } else { "have" };
                let what = if has == 0 { &people.def.one } else { &people.def.many() };
                let words =
                    format!("{} {verb} {words} {what} of their own, so that {} gives them nothing by it", list_text(&of, "and"), role.name);
                ends.push(LooseEnd { sort: EndSort::Nobody, words, count: of.len(), at: None });
            }
        }
        ends
    }

    fn ends_of(&self, table: &crate::dataset::Table, field: &FieldDef) -> Vec<LooseEnd> {
        let ds = self.dataset();
        let id = table.def.id;
        let reader = self.reader(id, field.id);
        let gone = |cell: Cell<'_>| match (&field.kind, cell) {
            (Kind::Link(link), Cell::Links(records)) if link.holds => {
                ds.table(link.to).is_some_and(|target| records.iter().any(|r| !target.is_live(*r)))
            }
            _ => false,
        };
        let looked_for: Vec<EndSort> = match &field.kind {
            kind if kind.is_computed() => vec![EndSort::Error],
            Kind::Link(link) if link.holds && field.required => vec![EndSort::Removed, EndSort::Missing],
            Kind::Link(link) if link.holds => vec![EndSort::Removed],
            Kind::Person | Kind::People => vec![EndSort::Missing, EndSort::Unsettled],
            _ if field.required => vec![EndSort::Missing],
            _ => Vec::new(),
        };
        let column = table.column(field.id);
        let is = |sort: EndSort, record: RecordId| match sort {
            EndSort::Unreadable | EndSort::Nobody | EndSort::Undecided | EndSort::Unowned | EndSort::Lost | EndSort::Error => {
                matches!(reader.cell(record.row()), Cell::Error(_))
            }
            EndSort::Removed => column.is_some_and(|c| gone(c.cell(record.row()))),
            EndSort::Unsettled => ds.arrival(id, record).is_some_and(|a| a.unsettled.iter().any(|u| u.field == field.id)),
            EndSort::Missing => field.required && reader.is_empty(reader.cell(record.row())),
        };
        let end = |sort: EndSort| {
            let mut records = table.records().filter(|r| self.sees(id, *r) && is(sort, *r));
            let record = records.next()?;
            let count = 1 + records.count();
            let many = if count == 1 { format!("1 {}", table.def.one) } else { format!("{count} {}", table.def.many()) };
            let words = match sort {
                EndSort::Unreadable | EndSort::Nobody | EndSort::Undecided | EndSort::Unowned | EndSort::Lost | EndSort::Error => {
                    format!("“{}” has no value in {many}", field.name)
                }
                EndSort::Removed => format!("{many} linked to something that was removed, in “{}”", field.name),
                EndSort::Unsettled => format!("{many} where it is open who is meant in “{}”", field.name),
                EndSort::Missing => format!("{many} without “{}”", field.name),
            };
            Some(LooseEnd { sort, words, count, at: Some(EndAt { table: id, field: field.id, record }) })
        };
        looked_for.into_iter().filter_map(end).collect()
    }
}

/// The column of each table: one that links to others stands left of them. Circles of links are cut where they close.
fn columns(tables: &[TableId], links: &[PlanLink]) -> BTreeMap<TableId, usize> {
    fn depth(table: TableId, links: &[PlanLink], known: &mut BTreeMap<TableId, usize>, way: &mut Vec<TableId>) -> usize {
        if let Some(depth) = known.get(&table) {
            return *depth;
        }
        way.push(table);
        let holders = links.iter().filter(|l| l.to == table && !way.contains(&l.from)).map(|l| l.from).collect::<Vec<_>>();
        let found = holders.into_iter().map(|from| 1 + depth(from, links, known, way)).max().unwrap_or(0);
        way.pop();
        known.insert(table, found);
        found
    }
    let mut known = BTreeMap::new();
    for table in tables {
        depth(*table, links, &mut known, &mut Vec::new());
    }
    known
}

/// The tables column by column; in each, those stand higher whose holders do.
fn in_columns(tables: &[TableId], columns: &BTreeMap<TableId, usize>, links: &[PlanLink]) -> Vec<TableId> {
    let column = |t: &TableId| columns.get(t).copied().unwrap_or(0);
    let mut placed: Vec<TableId> = Vec::new();
    for at in 0..=tables.iter().map(column).max().unwrap_or(0) {
        let mut here: Vec<TableId> = tables.iter().copied().filter(|t| column(t) == at).collect();
        let height = |t: &TableId| {
            let holders: Vec<usize> =
                links.iter().filter(|l| l.to == *t).filter_map(|l| placed.iter().position(|p| *p == l.from)).collect();
            if holders.is_empty() { usize::MAX } else { 100 * holders.iter().sum::<usize>() / holders.len() }
        };
        here.sort_by_key(|t| height(t));
        placed.extend(here);
    }
    placed
}
