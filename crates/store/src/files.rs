//! The bytes of files: in a local folder, or wherever `object_store` is told.

use crate::Stored;
// Only so that its algorithms are those of `ring`: see the feature in Cargo.toml.
use futures::{StreamExt, TryStreamExt, stream::BoxStream};
use object_store::{
    GetOptions, GetRange, ObjectStore, ObjectStoreExt, WriteMultipart, aws::AmazonS3Builder, local::LocalFileSystem, path::Path,
    prefix::PrefixStore,
};
use reqwest as _;
use std::{ops::Range, sync::Arc};

/// Bytes as they come.
pub(crate) type Bytes = BoxStream<'static, std::io::Result<bytes::Bytes>>;

/// The file store.
#[derive(Clone, Debug)]
pub struct Files(Arc<dyn ObjectStore>);

impl Files {
    /// Files in a local folder, which is made if it is missing.
    ///
    /// # Errors
    /// If the folder can't be made or used.
    pub fn in_folder(folder: &std::path::Path) -> std::io::Result<Self> {
        std::fs::create_dir_all(folder)?;
        let store = LocalFileSystem::new_with_prefix(folder).map_err(std::io::Error::other)?;
        Ok(Self(Arc::new(store)))
    }

    /// Files where a text says: a local folder, or `s3://bucket/prefix` in a store that speaks S3. How that is reached and
    /// signed in to is said by the environment (`AWS_ENDPOINT`, `AWS_REGION`, `AWS_ACCESS_KEY_ID`, `AWS_SECRET_ACCESS_KEY`).
    ///
    /// # Errors
    /// If it can't be made or used.
    pub fn at(place: &str) -> std::io::Result<Self> {
        let Some(rest) = place.strip_prefix("s3://") else { return Self::in_folder(std::path::Path::new(place)) };
        let (bucket, prefix) = rest.split_once('/').unwrap_or((rest, ""));
        if bucket.is_empty() {
            return Err(std::io::Error::other("an address of a bucket is like s3://bucket/folder"));
        }
        // Once for the process; a second time it stands already.
        let _ = rustls::crypto::ring::default_provider().install_default();
        let allow_http = std::env::var("AWS_ENDPOINT").is_ok_and(|endpoint| endpoint.starts_with("http://"));
        let store = AmazonS3Builder::from_env().with_bucket_name(bucket).with_allow_http(allow_http).build();
        let store = store.map_err(std::io::Error::other)?;
        let prefix = prefix.trim_matches('/');
        Ok(Self(if prefix.is_empty() { Arc::new(store) } else { Arc::new(PrefixStore::new(store, prefix)) }))
    }

    fn path(id: &str) -> Path {
        // Two levels, so that no folder holds a million files.
        Path::from(format!("{}/{id}", id.get(..2).unwrap_or("xx")))
    }

    /// Keeps bytes under an id.
    pub async fn put(&self, id: &str, bytes: Vec<u8>) -> Stored<()> {
        self.0.put(&Self::path(id), bytes.into()).await?;
        Ok(())
    }

    /// The bytes under an id; none where there are none.
    pub async fn get(&self, id: &str) -> Stored<Option<Vec<u8>>> {
        match self.0.get(&Self::path(id)).await {
            Ok(found) => Ok(Some(found.bytes().await?.to_vec())),
            Err(object_store::Error::NotFound { .. }) => Ok(None),
            Err(error) => Err(error.into()),
        }
    }

    /// A run of the bytes under an id as they come; with how many there are in all. None where there are none.
    ///
    /// # Errors
    /// The store does not answer.
    pub async fn stream(&self, id: &str, range: Option<Range<u64>>) -> Stored<Option<(u64, Bytes)>> {
        let options = GetOptions { range: range.map(GetRange::Bounded), ..GetOptions::default() };
        match self.0.get_opts(&Self::path(id), options).await {
            Ok(found) => Ok(Some((found.meta.size, found.into_stream().map_err(std::io::Error::other).boxed()))),
            Err(object_store::Error::NotFound { .. }) => Ok(None),
            Err(error) => Err(error.into()),
        }
    }

    /// How many bytes are under an id; none where there are none.
    pub async fn size(&self, id: &str) -> Stored<Option<u64>> {
        match self.0.head(&Self::path(id)).await {
            Ok(meta) => Ok(Some(meta.size)),
            Err(object_store::Error::NotFound { .. }) => Ok(None),
            Err(error) => Err(error.into()),
        }
    }

    /// Puts pieces together under an id, one after the other, never all in memory.
    ///
    /// # Errors
    /// One of them is not there, or the store does not answer.
    pub async fn join(&self, pieces: &[String], id: &str) -> Stored<()> {
        let mut writer = WriteMultipart::new(self.0.put_multipart(&Self::path(id)).await?);
        for piece in pieces {
            match self.0.get(&Self::path(piece)).await {
                Ok(found) => writer.put(found.bytes().await?),
                Err(error) => {
                    writer.abort().await?;
                    return Err(error.into());
                }
            }
        }
        writer.finish().await?;
        Ok(())
    }

    /// Takes the bytes under an id away, if there are any.
    pub async fn drop(&self, id: &str) -> Stored<()> {
        match self.0.delete(&Self::path(id)).await {
            Ok(()) | Err(object_store::Error::NotFound { .. }) => Ok(()),
            Err(error) => Err(error.into()),
        }
    }
}
