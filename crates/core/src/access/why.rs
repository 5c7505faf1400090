//! Why somebody may, or may not, do something with a record: the real decision, role by role and test by test, with the values
//! that were met. For those alone who may know all of it.

use super::{AskedOf, FieldRight, Lens, Reach, Right, TableRights, whom::Source};
use crate::{
    condition::{Check, Condition, Test, Who},
    dataset::{Dataset, Table},
    fault::Fault,
    id::{FieldId, RecordId, TableId},
    people::Actor,
    schema::within_sentence,
    value::list_text,
};
use serde::{Deserialize, Serialize};

/// Most names and values that are told of one link or field.
const NAMED: usize = 3;
/// Most records that are followed along a link to many.
const FOLLOWED: usize = 50;

/// What is asked of somebody and a record.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct AccessQuestion {
    #[serde(flatten)]
    pub whom: AskedOf,
    pub right: Right,
    pub table: TableId,
    pub record: RecordId,
    /// Of one field of it; nothing: of the record.
    #[serde(default)]
    pub field: Option<FieldId>,
}

/// The answer.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct AccessWhy {
    pub holds: bool,
    /// *Tamsin Oake does not see “Boards slippery”: none of her roles gives it.*
    pub says: String,
    /// What it takes, one after the other: each must hold.
    pub parts: Vec<WhyPart>,
    /// What would let them, where something would.
    pub mends: Vec<String>,
}

/// One thing that it takes.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct WhyPart {
    pub holds: bool,
    /// *To see it*, *To change it*, *To read “Due”*.
    pub says: String,
    /// Any of them is enough.
    pub roles: Vec<RoleWhy>,
}

/// What one role says to it.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct RoleWhy {
    /// The number of the role, of the view that was given, or of the part of the page.
    pub number: u32,
    pub name: String,
    pub holds: bool,
    /// *sees faults where section’s district’s warden is me*.
    pub says: String,
    pub steps: Vec<WhyStep>,
    /// What it lacks; empty where it holds, or nothing in the record would make it.
    #[serde(skip)]
    lacks: String,
}

/// One test, with what was met.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct WhyStep {
    pub holds: bool,
    /// The test, as it stands in the role.
    pub says: String,
    /// *section is Moss Cairn to Kiln Side, whose district is Harrow Tarn, whose warden is Idris Pell*.
    pub met: String,
}

impl Right {
    fn of(self, rights: &TableRights) -> &Reach {
        match self {
            Right::Look => &rights.look,
            Right::Change => &rights.change,
            Right::Remove => &rights.remove,
        }
    }
}

impl Lens<'_> {
    /// Why somebody may or may not do something with a record. Tells of everything, so for stewards alone.
    ///
    /// # Errors
    /// There is no such person, record or field.
    pub fn why_access(&self, question: AccessQuestion) -> Result<AccessWhy, Fault> {
        let AccessQuestion { whom, right, table, record, field } = question;
        let ds = self.dataset();
        let home = ds.table(table).filter(|home| home.is_live(record)).ok_or_else(|| Fault::not_found("record"))?;
        let known = whom.name(ds)?;
        let field = field.map(|id| home.def.field(id).ok_or_else(|| Fault::not_found("field"))).transpose()?;
        let theirs = Lens::new(ds, whom.asker(), self.clock());
        let whole = theirs.whole();
        let asking = Asking { whole, home, record, person: known.clone() };
        let roles: Vec<Source> = whom.sources(ds, table);
        let rights: Vec<Right> = if right == Right::Look { vec![Right::Look] } else { vec![Right::Look, right] };
        let mut parts: Vec<WhyPart> = whom.comes_in(&theirs);
        parts.extend(rights.into_iter().map(|right| asking.part(right, &roles)));
        if let Some(field) = field {
            // Changing needs reading too, by whichever role.
            parts.push(asking.field(field.id, &field.name, FieldRight::Read, Right::Look, &roles));
            if right != Right::Look {
                parts.push(asking.field(field.id, &field.name, FieldRight::Change, right, &roles));
            }
            if field.kind.is_computed() && parts.iter().all(|part| part.holds) && !theirs.tells_computed(table, record, field.id) {
                parts.push(asking.drawn(field.id));
            }
        }
        let holds = parts.iter().all(|part| part.holds);
        let name = whole.record_name(table, record).map(|name| name.name).unwrap_or_default();
        let what = field.map_or_else(|| format!("“{name}”"), |field| format!("“{}” of “{name}”", field.name));
        let verb = if field.is_some() && right == Right::Look { "read" } else { right.verb() };
        let says = match (holds, roles.is_empty()) {
            (true, _) => format!("{known} can {verb} {what}."),
            (false, true) => format!("{known} can’t {verb} {what}{}.", whom.nothing(ds, &home.def.many())),
            (false, false) => format!("{known} can’t {verb} {what}."),
        };
        let failing = parts.iter().find(|part| !part.holds);
        let mends = failing.map_or_else(Vec::new, |part| part.roles.iter().filter_map(RoleWhy::mend).collect());
        Ok(AccessWhy { holds, says, parts, mends })
    }
}

impl RoleWhy {
    fn mend(&self) -> Option<String> {
        (!self.holds && !self.lacks.is_empty()).then(|| format!("{} would give it where {}.", self.name, self.lacks))
    }
}

/// The tests that do not hold, in words.
fn lacking(steps: &[WhyStep], last: &str) -> String {
    let lacks: Vec<&str> = steps.iter().filter(|step| !step.holds).map(|step| step.says.as_str()).collect();
    list_text(&lacks, last)
}

struct Asking<'a> {
    /// Everything, with the person for *me*.
    whole: &'a Lens<'a>,
    home: &'a Table,
    record: RecordId,
    person: String,
}

impl Asking<'_> {
    fn ds(&self) -> &Dataset {
        self.whole.dataset()
    }

    fn part(&self, right: Right, roles: &[Source]) -> WhyPart {
        let of = |role: &Source| self.role(role, right);
        let roles: Vec<RoleWhy> = roles.iter().map(of).collect();
        WhyPart { holds: roles.iter().any(|role| role.holds), says: format!("To {} it", right.verb()), roles }
    }

    fn role(&self, role: &Source, right: Right) -> RoleWhy {
        let (table, many) = (self.home.def.id, self.home.def.many());
        let rights = &role.rights;
        let verb = format!("{}s", right.verb());
        let closed = right != Right::Look && !self.ds().tracker.stage.is_open();
        let (holds, says, steps) = match right.of(rights) {
            _ if closed => (false, "the tracker is closed: nothing in it changes".to_owned(), Vec::new()),
            Reach::None => (false, format!("{verb} no {many}"), Vec::new()),
            Reach::All => (true, format!("{verb} all {many}"), Vec::new()),
            Reach::Mine => {
                let steps = self.mine();
                (steps.iter().any(|step| step.holds), format!("{verb} their own {many}"), steps)
            }
            Reach::Where(condition) => {
                let words = condition.to_sentence(self.whole, table);
                let steps = condition.tests().into_iter().map(|test| self.step(test)).collect();
                (condition.holds(self.whole, table, self.record), format!("{verb} {many} where {words}"), steps)
            }
        };
        let lacks = match right.of(rights) {
            Reach::Mine => lacking(&steps, "or"),
            // Of tests that must all hold, those that do not; of others, all of it.
            Reach::Where(Condition::All(parts)) if parts.iter().all(|part| matches!(part, Condition::Test(_))) => lacking(&steps, "and"),
            Reach::Where(condition) => condition.to_sentence(self.whole, table),
            Reach::None | Reach::All => String::new(),
        };
        RoleWhy { number: role.number, name: role.name.clone(), holds, says, steps, lacks }
    }

    /// What makes it somebody's own, each with what was met.
    fn mine(&self) -> Vec<WhyStep> {
        let by = self.home.def.mine;
        let named = |field: FieldId| self.home.def.field(field).map_or_else(String::new, |field| within_sentence(&field.name));
        let met = |field: FieldId| {
            let text = self.whole.text_at(self.home.def.id, self.record, field);
            format!("{} {}", named(field), if text.is_empty() { "is empty".to_owned() } else { format!("is {text}") })
        };
        let maker = self.home.meta(self.record).map(|meta| meta.created_by);
        let mut steps = Vec::new();
        if by.made {
            let who = maker.map_or_else(String::new, |who| self.whole.actor_name(who));
            let holds = maker.zip(self.whole.me()).is_some_and(|(maker, me)| maker == Actor::Person(me));
            steps.push(WhyStep { holds, says: "they made it".into(), met: format!("made by {who}") });
        }
        let alone = |field: &dyn Fn(&mut crate::schema::MineBy)| {
            let mut only = crate::schema::MineBy { made: false, address: None, entered_for: None, own: None };
            field(&mut only);
            self.whole.is_mine_by(self.home, self.record, only)
        };
        if let Some(field) = by.address {
            let holds = alone(&|only| only.address = Some(field));
            let way = if matches!(maker, Some(Actor::Form(_))) { "" } else { ", and it did not come by a form" };
            steps.push(WhyStep { holds, says: "it was sent in under their address".into(), met: format!("{}{way}", met(field)) });
        }
        if let Some(field) = by.entered_for {
            let holds = alone(&|only| only.entered_for = Some(field));
            steps.push(WhyStep { holds, says: format!("they are its {}", named(field)), met: met(field) });
        }
        if let Some(field) = by.own {
            let holds = alone(&|only| only.own = Some(field));
            steps.push(WhyStep { holds, says: "it is their own record".into(), met: format!("{}; {}", met(field), self.who_i_am()) });
        }
        steps
    }

    fn step(&self, test: &Test) -> WhyStep {
        let table = self.home.def.id;
        let alone = Condition::Test(test.clone());
        let holds = alone.holds(self.whole, table, self.record);
        let mut met = self.met(test);
        match &test.check {
            Check::Person { any, .. } if any.contains(&Who::Me) => met += &format!("; “me” is {}", self.person),
            Check::MyRecord { .. } => met += &format!("; {}", self.who_i_am()),
            _ => {}
        }
        WhyStep { holds, says: test.to_sentence(self.whole, table), met }
    }

    /// *section is Moss Cairn to Kiln Side, whose district is Harrow Tarn, whose warden is Idris Pell*.
    fn met(&self, test: &Test) -> String {
        let mut at = self.home;
        let mut records = vec![self.record];
        let mut words: Vec<String> = Vec::new();
        for (place, field) in test.path.iter().enumerate() {
            let Some(def) = at.def.field(*field) else {
                words.push("a field that is not there any more".into());
                break;
            };
            let mut texts: Vec<String> = Vec::new();
            for record in &records {
                let text = self.whole.text_at(at.def.id, *record, *field);
                if !text.is_empty() && !texts.contains(&text) {
                    texts.push(text);
                }
            }
            let more = texts.len().saturating_sub(NAMED);
            texts.truncate(NAMED);
            let told = match (texts.is_empty(), more) {
                (true, _) => "is empty".to_owned(),
                (false, 0) => format!("is {}", list_text(&texts, "and")),
                (false, more) => format!("is {} and {more} more", texts.join(", ")),
            };
            words.push(format!("{}{} {told}", if place == 0 { "" } else { "whose " }, within_sentence(&def.name)));
            if place + 1 == test.path.len() || texts.is_empty() {
                break;
            }
            let Some((link, next)) = at.link(*field).and_then(|link| Some((link, self.ds().table(link.to)?))) else { break };
            let column = at.column(*field);
            records = records.iter().flat_map(|r| column.map_or(&[][..], |c| c.links(r.row())).iter().copied()).collect();
            records.retain(|record| next.is_live(*record));
            records.truncate(FOLLOWED);
            debug_assert!(link.to == next.def.id);
            at = next;
        }
        words.join(", ")
    }

    /// Whom *my record* is.
    fn who_i_am(&self) -> String {
        let Some((people, _)) = self.ds().people_table() else { return "no table holds the people".into() };
        match self.whole.my_record().and_then(|record| self.whole.record_name(people.def.id, record)) {
            Some(own) => format!("“my record” is {}", own.name),
            None => {
                let several = self.whole.my_address().is_some_and(|mail| self.ds().records_under(mail).next().is_some());
                let (how, what) = if several { ("several", people.def.many()) } else { ("no", people.def.one.clone()) };
                format!("{} has {how} {what} of their own", self.person)
            }
        }
    }

    /// What each role that reaches the record says of a field.
    fn field(&self, id: FieldId, name: &str, needs: FieldRight, right: Right, roles: &[Source]) -> WhyPart {
        let of = |role: &Source| {
            let reached = self.role(role, right);
            let given = role.rights.of(id);
            let says = match given {
                FieldRight::Hidden => "hides it",
                FieldRight::Read => "lets it be read",
                FieldRight::Change => "says nothing of it, so that it goes with the record",
            };
            let says = if reached.holds { says.to_owned() } else { format!("{says}, and does not reach the record") };
            RoleWhy {
                number: role.number,
                name: role.name.clone(),
                holds: reached.holds && given >= needs,
                says,
                steps: Vec::new(),
                lacks: String::new(),
            }
        };
        let roles: Vec<RoleWhy> = roles.iter().map(of).collect();
        let verb = if needs == FieldRight::Change { "change" } else { "read" };
        let takes = needs == FieldRight::Read || self.home.def.field(id).is_some_and(|field| field.kind.takes_input());
        let holds = takes && roles.iter().any(|role| role.holds);
        let says = if takes { format!("To {verb} “{name}”") } else { format!("“{name}” is filled in by Westerfall itself") };
        WhyPart { holds, says, roles }
    }

    /// A computed field is withheld where something that it draws on is.
    fn drawn(&self, field: FieldId) -> WhyPart {
        let drawn = self.ds().draws_on(self.home.def.id, field);
        let names = drawn
            .iter()
            .filter_map(|id| self.ds().field(*id))
            .map(|(table, field)| format!("{} of {}", within_sentence(&field.name), table.def.many()));
        let names: Vec<String> = names.collect();
        WhyPart {
            holds: false,
            says: format!(
                "It is computed from {}, of which something is out of their reach, and it was not released",
                list_text(&names, "and")
            ),
            roles: Vec::new(),
        }
    }
}
