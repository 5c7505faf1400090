//! What another state of a role would do, person by person, before it holds: people gain and lose, not roles.

use super::{Asker, Base, Lens, Reach, Right, Role, TableRights};
use crate::{
    condition::{Condition, Test},
    dataset::{Dataset, RecordName},
    form::Form,
    id::{FieldId, PersonId, RecordId, RoleId, TableId},
    part::Part,
    people::{People, Person},
    schema::{FieldDef, MineBy, TableDef, within_sentence},
    value::{Customs, list_text},
    view::View,
};
use fixedbitset::FixedBitSet;
use serde::{Deserialize, Serialize};
use std::sync::Arc;

/// Most people who are told of one by one; of more, how many.
const TOLD: usize = 50;
/// Most records that are named as examples of one step.
const EXAMPLES: usize = 3;

/// What would become of access.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct AccessRehearsal {
    /// In sentences: *2 people see less.*, *Nobody but stewards would see 32 faults any more.*
    pub says: Vec<String>,
    /// Those for whom something moves.
    pub people: Vec<PersonMoves>,
    /// Tables that hang on one whose reach changes, to which it can be carried along the link.
    pub carries: Vec<Carry>,
}

/// A reach carried along a link to a table that hangs on the one where it was set.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Carry {
    pub table: TableId,
    /// What the role would give there.
    pub rights: TableRights,
    /// *Faults hang on sections by section, and are seen as before: carry it there, to those where section’s district’s warden is me.*
    pub says: String,
}

/// What somebody gains and loses.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PersonMoves {
    pub person: PersonId,
    pub name: String,
    /// The tracker would not be there for them any more.
    pub shut_out: bool,
    pub tables: Vec<TableMoves>,
}

/// The same in one table.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct TableMoves {
    pub table: TableId,
    pub look: Move,
    pub change: Move,
    pub remove: Move,
    /// How many records there are, so that moves can be drawn at one scale.
    pub of: usize,
    /// Adding begins, or ends.
    pub adds: Option<bool>,
    pub gained: Vec<RecordName>,
    pub lost: Vec<RecordName>,
    /// Fields that appear and disappear, by their names.
    pub fields_gained: Vec<String>,
    pub fields_lost: Vec<String>,
    /// All of it in a line: *sees 67 → 26, changes 67 → 26; Reporter’s phone disappears*.
    pub words: String,
}

/// So many records before and after.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Move {
    pub before: usize,
    pub after: usize,
}

impl Move {
    fn moves(self) -> bool {
        self.before != self.after
    }

    fn words(self, verb: &str) -> Option<String> {
        self.moves().then(|| format!("{verb} {} → {}", self.before, self.after))
    }
}

impl Lens<'_> {
    /// What a role as it shall be would do; without one, what taking it away would. For stewards: it tells what others see.
    pub fn rehearse_role(&self, id: RoleId, after: Option<&Role>) -> AccessRehearsal {
        let now = self.dataset();
        let mut then = now.clone();
        match after {
            Some(role) => then.load_part(&Part::Role(role.clone())),
            None => then.drop_role(id),
        }
        let before = now.roles().find(|role| role.id == id);
        let holds = |person: &&Person| before.into_iter().chain(after).any(|role| role.is_held_by(person.id, &now.people));
        let mut rehearsal = self.rehearse_for(&now.people.here().filter(holds).collect::<Vec<_>>(), &then);
        if !rehearsal.people.is_empty() {
            rehearsal.says.extend(self.of_forms_and_pages(now, &then));
        }
        AccessRehearsal { carries: before.zip(after).map_or_else(Vec::new, |(before, after)| self.carries(before, after)), ..rehearsal }
    }

    /// The tables that hang on those where a role would see other records now, and do not follow yet.
    fn carries(&self, before: &Role, after: &Role) -> Vec<Carry> {
        let ds = self.dataset();
        let mut carries: Vec<Carry> = Vec::new();
        for home in ds.tables() {
            let id = home.def.id;
            let rights = after.rights(id);
            let Reach::Where(_) = &rights.look else { continue };
            if before.rights(id).look == rights.look {
                continue;
            }
            for hanging in ds.tables().filter(|other| other.def.id != id) {
                let table = hanging.def.id;
                let leads = |field: &&FieldDef| hanging.link(field.id).is_some_and(|link| link.one && link.to == id);
                let now = after.rights(table);
                let Some(link) = hanging.def.fields.iter().find(leads).filter(|_| now.look != Reach::None) else { continue };
                let look = along(&rights.look, link.id);
                if look == now.look || before.rights(table).look != now.look || carries.iter().any(|carry| carry.table == table) {
                    continue;
                }
                let same = |reach: &Reach| if *reach == Reach::None { Reach::None } else { look.clone() };
                let carried = TableRights { change: same(&now.change), remove: same(&now.remove), look: look.clone(), ..now.into_owned() };
                if let Reach::Where(condition) = &look {
                    let says = format!(
                        "{} hang on {} by {}, and are seen as before. Carried there, it is: {} where {}.",
                        hanging.def.name,
                        home.def.many(),
                        within_sentence(&link.name),
                        hanging.def.many(),
                        condition.to_sentence(self, table)
                    );
                    carries.push(Carry { table, rights: carried, says });
                }
            }
        }
        carries
    }

    /// What it would do that a table's records are somebody's own by something else.
    pub fn rehearse_mine(&self, table: TableId, mine: MineBy) -> AccessRehearsal {
        let now = self.dataset();
        let mut then = now.clone();
        if let Some(home) = now.table(table) {
            then.load_part(&Part::Table(TableDef { mine, ..TableDef::clone(&home.def) }));
        }
        let everybody: Vec<&Person> = now.people.here().filter(|person| now.roles_of(person.id).next().is_some()).collect();
        self.rehearse_for(&everybody, &then)
    }

    /// What it would do that a view is given to others than now.
    pub fn rehearse_giving(&self, after: &View) -> AccessRehearsal {
        let now = self.dataset();
        let mut then = now.clone();
        then.load_part(&Part::View(after.clone()));
        let named = |person: &&Person| {
            let before = now.view(after.id).is_some_and(|view| view.given.contains_key(&person.id));
            before || after.given.contains_key(&person.id)
        };
        self.rehearse_for(&now.people.here().filter(named).collect::<Vec<_>>(), &then)
    }

    /// What it would do to these people that the team is another: that the area opens to others, or the tracker lies elsewhere.
    pub fn rehearse_team(&self, people: Arc<People>) -> AccessRehearsal {
        let now = self.dataset();
        let then = now.with_people(people);
        let reached = |person: &&Person| {
            [now, &then]
                .into_iter()
                .flat_map(Dataset::area_roles)
                .any(|role| role.is_held_by(person.id, &then.people) || role.is_held_by(person.id, &now.people))
        };
        self.rehearse_for(&now.people.here().filter(reached).collect::<Vec<_>>(), &then)
    }

    fn rehearse_for(&self, touched: &[&Person], then: &Dataset) -> AccessRehearsal {
        let now = self.dataset();
        let moves: Vec<PersonMoves> = touched.iter().filter_map(|person| self.moves_of(person, now, then)).collect();
        let mut says = said(&moves, touched.len());
        says.extend(self.out_of_sight(touched, now, then));
        let people = moves.into_iter().take(TOLD).collect();
        AccessRehearsal { says, people, carries: Vec::new() }
    }

    fn moves_of(&self, person: &Person, now: &Dataset, then: &Dataset) -> Option<PersonMoves> {
        let asker = Asker::Person(person.id);
        let (before, after) = (Lens::new(now, asker, self.clock()), Lens::new(then, asker, self.clock()));
        let tables: Vec<TableMoves> = now.tables().filter_map(|table| table_moves(table.def.id, &before, &after, self)).collect();
        let shut_out = asker.may_look_at(now) && !asker.may_look_at(then);
        (shut_out || !tables.is_empty()).then(|| PersonMoves { person: person.id, name: person.name.clone(), shut_out, tables })
    }

    /// What becomes of forms and shared pages: nothing, but for whom their answers reach.
    fn of_forms_and_pages(&self, now: &Dataset, then: &Dataset) -> Vec<String> {
        let sees = |ds: &Dataset, table: TableId| {
            let may = |person: &&Person| {
                let stewards = ds.holds(person.id, &[Base::Steward]);
                !stewards && Lens::new(ds, Asker::Person(person.id), self.clock()).opens(table)
            };
            ds.people.here().any(|person| may(&person))
        };
        let open: Vec<&Form> = now.forms().filter(|form| form.open).collect();
        let unseen = open.iter().filter(|form| sees(now, form.table) && !sees(then, form.table));
        let mut says: Vec<String> =
            unseen.map(|form| format!("What comes by the form “{}” would be seen by stewards alone.", form.title)).collect();
        let pages = now.pages().any(|page| page.open);
        let ways: Vec<&str> = [(!open.is_empty(), "forms"), (pages, "shared pages")].iter().filter(|way| way.0).map(|way| way.1).collect();
        if !ways.is_empty() {
            let verb = "give what they give by themselves";
            says.push(crate::sentence::capital(&format!("{} {verb}: nothing changes for whoever has a link.", list_text(&ways, "and"))));
        }
        says
    }

    /// Records that somebody of the role sees now and none of them would.
    fn out_of_sight(&self, people: &[&Person], now: &Dataset, then: &Dataset) -> Vec<String> {
        let seen = |ds: &Dataset, table: TableId| {
            let mut all = FixedBitSet::new();
            for person in people {
                let rows = Lens::new(ds, Asker::Person(person.id), self.clock()).rows_in_sight(table);
                all.grow(rows.len());
                all.union_with(&rows);
            }
            all
        };
        let gone = now.tables().filter_map(|table| {
            let before = seen(now, table.def.id);
            let count = if before.is_clear() { 0 } else { before.difference(&seen(then, table.def.id)).count() };
            (count > 0).then(|| self.clock().customs().count_words(count, &table.def.one, &table.def.many()))
        });
        let gone: Vec<String> = gone.collect();
        if gone.is_empty() {
            Vec::new()
        } else {
            vec![format!("None of them would see {} any more that one of them sees now.", list_text(&gone, "and"))]
        }
    }
}

/// A reach as it is told from a table that leads to the one where it was set.
fn along(reach: &Reach, link: FieldId) -> Reach {
    fn part(condition: &Condition, link: FieldId) -> Condition {
        match condition {
            Condition::All(parts) => Condition::All(parts.iter().map(|one| part(one, link)).collect()),
            Condition::Any(parts) => Condition::Any(parts.iter().map(|one| part(one, link)).collect()),
            Condition::Test(test) => {
                Condition::Test(Test { path: [&[link], &test.path[..]].concat(), of: test.of, check: test.check.clone() })
            }
        }
    }
    match reach {
        Reach::Where(condition) => Reach::Where(part(condition, link)),
        other => other.clone(),
    }
}

fn said(moves: &[PersonMoves], held: usize) -> Vec<String> {
    if moves.is_empty() {
        return vec![match held {
            0 => "Nobody holds it, so nothing moves yet.".to_owned(),
            _ => "Nobody gains or loses anything by it.".to_owned(),
        }];
    }
    let sees = |one: &PersonMoves, more: bool| {
        one.tables.iter().any(|t| if more { t.look.after > t.look.before } else { t.look.after < t.look.before })
    };
    let people = |count: usize, verb_one: &str, verb_many: &str| {
        format!("{} {}.", Customs::default().count_words(count, "person", "people"), if count == 1 { verb_one } else { verb_many })
    };
    let count = |holds: &dyn Fn(&PersonMoves) -> bool| moves.iter().filter(|one| holds(one)).count();
    let mut says = Vec::new();
    let (more, less) = (count(&|one| sees(one, true)), count(&|one| sees(one, false)));
    if more > 0 {
        says.push(people(more, "sees more", "see more"));
    }
    if less > 0 {
        says.push(people(less, "sees less", "see less"));
    }
    let out: Vec<&str> = moves.iter().filter(|one| one.shut_out).map(|one| one.name.as_str()).collect();
    if !out.is_empty() {
        says.push(format!("{} would not open this tracker any more.", list_text(&out, "and")));
    }
    if more == 0 && less == 0 {
        says.push(people(moves.len(), "may do something else with what they see", "may do something else with what they see"));
    }
    says
}

fn table_moves(table: TableId, before: &Lens<'_>, after: &Lens<'_>, all: &Lens<'_>) -> Option<TableMoves> {
    let home = before.dataset().table(table)?;
    let moved = |right: Right| Move { before: before.reached_by(home, right), after: after.reached_by(home, right) };
    let (look, change, remove) = (moved(Right::Look), moved(Right::Change), moved(Right::Remove));
    let adds = (before.adds(table) != after.adds(table)).then(|| after.adds(table));
    let fields = |with: &Lens<'_>, without: &Lens<'_>| -> Vec<String> {
        let appears = |field: FieldId| with.reads(table, field) && !without.reads(table, field);
        home.def.fields.iter().filter(|f| appears(f.id)).map(|f| f.name.clone()).collect()
    };
    // Of a table that opens or closes whole, its fields go without saying.
    let stays = before.opens(table) && after.opens(table);
    let (fields_gained, fields_lost) = if stays { (fields(after, before), fields(before, after)) } else { (Vec::new(), Vec::new()) };
    let (rows_before, rows_after) = (before.rows_in_sight(table), after.rows_in_sight(table));
    let only = |with: &FixedBitSet, without: &FixedBitSet| -> Vec<RecordName> {
        with.difference(without).take(EXAMPLES).filter_map(|row| all.record_name(table, RecordId::at_row(row))).collect()
    };
    let (gained, lost) = (only(&rows_after, &rows_before), only(&rows_before, &rows_after));
    let still = !look.moves() && !change.moves() && !remove.moves() && adds.is_none() && gained.is_empty() && lost.is_empty();
    if still && fields_gained.is_empty() && fields_lost.is_empty() {
        return None;
    }
    let mut words: Vec<String> = [look.words("sees"), change.words("changes"), remove.words("removes")].into_iter().flatten().collect();
    words.extend(adds.map(|begins| if begins { "may add".to_owned() } else { "adds no more".to_owned() }));
    words.extend((!fields_gained.is_empty()).then(|| format!("sees {} too", list_text(&fields_gained, "and"))));
    words.extend((!fields_lost.is_empty()).then(|| format!("sees {} no more", list_text(&fields_lost, "and"))));
    if words.is_empty() {
        words.push("sees others than before".to_owned());
    }
    Some(TableMoves {
        table,
        look,
        change,
        remove,
        of: home.live(),
        adds,
        gained,
        lost,
        fields_gained,
        fields_lost,
        words: words.join(", "),
    })
}
