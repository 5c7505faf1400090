//! JSON columns as the types they hold, read and written without a detour.

use diesel::{
    deserialize::{self, FromSql, FromSqlRow},
    expression::AsExpression,
    pg::{Pg, PgValue},
    serialize::{self, IsNull, Output, ToSql},
    sql_types::Json as SqlJson,
};
use serde::{Serialize, de::DeserializeOwned};
use westerfall_core::upgrade::{self, Kept, Unreadable};

/// A value kept as JSON.
#[derive(Clone, Debug, AsExpression, FromSqlRow)]
#[diesel(sql_type = SqlJson)]
pub(crate) struct Json<T: std::fmt::Debug>(pub(crate) T);

impl<T: DeserializeOwned + std::fmt::Debug> FromSql<SqlJson, Pg> for Json<T> {
    fn from_sql(value: PgValue<'_>) -> deserialize::Result<Self> {
        Ok(Self(serde_json::from_slice(value.as_bytes())?))
    }
}

/// What was kept in some format, not read yet.
#[derive(Clone, Debug, FromSqlRow)]
pub(crate) struct Raw(Vec<u8>);

impl FromSql<SqlJson, Pg> for Raw {
    fn from_sql(value: PgValue<'_>) -> deserialize::Result<Self> {
        Ok(Self(value.as_bytes().to_vec()))
    }
}

impl Raw {
    /// Reads it through the chain of upgrades.
    pub(crate) fn read<T: DeserializeOwned>(&self, kept: Kept, format: i16) -> Result<T, Unreadable> {
        upgrade::read(kept, format, &self.0)
    }
}

impl<T: Serialize + std::fmt::Debug> ToSql<SqlJson, Pg> for Json<T> {
    fn to_sql<'b>(&'b self, out: &mut Output<'b, '_, Pg>) -> serialize::Result {
        serde_json::to_writer(out, &self.0)?;
        Ok(IsNull::No)
    }
}

/// An id as PostgreSQL keeps it. Ids stay far below two thousand million.
pub(crate) fn int(id: u32) -> i32 {
    i32::try_from(id).unwrap_or(i32::MAX)
}
