import { Button, Upload } from "antd";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import { api, fieldSays, type Problem } from "../api/client";
import { useChanged } from "../api/use-changed";
import { type PhotoOf, useWaitingPhotos } from "../kept/photos";
import { Drop } from "./drop";
import { longDay } from "./format";
import styles from "./photos.module.css";
import { StateMark } from "./state-mark";
import { WordsField } from "./words-field";

export interface Shot {
  id: string;
  caption: string;
  width: number;
  height: number;
  takenAt: string;
  by: string;
}

/** Takes a picture in: made small here, kept until it is on record, said in words where it is none. */
export function AddPhoto({ pool, of }: { pool: string; of?: PhotoOf }) {
  const { t } = useTranslation();
  const [caption, setCaption] = useState("");
  const photos = useWaitingPhotos(pool, of);
  return (
    <div className={styles["add-photo"]}>
      <WordsField id="photo-caption" label={t("photo.caption")} value={caption} onChange={setCaption} />
      <Drop
        id="photo-file"
        label={t("photo.add")}
        accept="image/*"
        onFile={(file) => {
          photos.take(file, caption);
          setCaption("");
        }}
      />
      <WaitingPhotos {...photos} />
    </div>
  );
}

/** The camera for one thing under the thumb, and what was taken of it. */
export function SnapOf({ pool, of, name, shots }: { pool: string; of: PhotoOf; name: string; shots: Shot[] }) {
  const { t } = useTranslation();
  const photos = useWaitingPhotos(pool, of);
  return (
    <div className={styles.snap}>
      {shots.map((s) => (
        <a key={s.id} href={`/api/v1/photos/${s.id}`} target="_blank" rel="noreferrer" data-photo={s.id}>
          <img
            src={`/api/v1/photos/${s.id}`}
            width={s.width}
            height={s.height}
            alt={s.caption || name}
            loading="lazy"
          />
        </a>
      ))}
      <Upload
        accept="image/*"
        capture="environment"
        showUploadList={false}
        beforeUpload={(file) => {
          photos.take(file, "");
          return false;
        }}
      >
        <Button size="small" aria-label={t("photo.snapOf", { name })}>
          {t("photo.snap")}
        </Button>
      </Upload>
      <WaitingPhotos {...photos} />
    </div>
  );
}

/** Pictures that are kept here and not yet on record, and why one was not taken. */
function WaitingPhotos({ waiting, discard }: ReturnType<typeof useWaitingPhotos>) {
  const { t } = useTranslation();
  if (waiting.length === 0) return null;
  return (
    <ul className={styles.waiting}>
      {waiting.map((p) => (
        <li key={p.id} data-photo-waits={p.id}>
          {!p.refused && <Waiting picture={p.picture} alt={p.ask.caption || t("photo.unnamed")} />}
          {p.refused ? (
            <span className="state-line" role="alert">
              <StateMark mark="act" />
              {p.refused.detail}
              <Button size="small" onClick={() => discard(p.id)}>
                {t("photo.discard")}
              </Button>
            </span>
          ) : (
            <span role="status">{t("photo.waits")}</span>
          )}
        </li>
      ))}
    </ul>
  );
}

function Waiting({ picture, alt }: { picture: Blob; alt: string }) {
  const [src, setSrc] = useState("");
  useEffect(() => {
    const url = URL.createObjectURL(picture);
    setSrc(url);
    return () => URL.revokeObjectURL(url);
  }, [picture]);
  return src ? <img src={src} alt={alt} width={96} height={72} /> : null;
}

/** Pictures with their words; the desk may take one away. */
export function Photos({ shots, shown, mayEdit }: { shots: Shot[]; shown?: string; mayEdit: boolean }) {
  const { t } = useTranslation();
  const changed = useChanged();
  const [going, setGoing] = useState<string | null>(null);
  const [why, setWhy] = useState("");
  const again = { onSuccess: () => changed("beside") };
  const show = api.useMutation("put", "/api/v1/photos/{id}/shown", again);
  const away = api.useMutation("post", "/api/v1/photos/{id}/gone", again);
  const says = fieldSays(away.error as Problem | null);
  return (
    <ul className={styles.photos}>
      {shots.map((s) => (
        <li key={s.id} data-photo={s.id}>
          <a href={`/api/v1/photos/${s.id}`} target="_blank" rel="noreferrer">
            <img
              src={`/api/v1/photos/${s.id}`}
              width={s.width}
              height={s.height}
              alt={s.caption || t("photo.unnamed")}
              loading="lazy"
            />
          </a>
          <span>
            {s.caption} <span className="quiet">{`${longDay(s.takenAt)}, ${s.by}`}</span>
          </span>
          <span className="part-acts">
            {s.id === shown && <b>{t("photo.stands")}</b>}
            {s.id !== shown && shown !== undefined && (
              <Button type="link" onClick={() => show.mutate({ params: { path: { id: s.id } } })}>
                {t("photo.show")}
              </Button>
            )}
            {mayEdit && going !== s.id && (
              <Button type="link" data-act="away" onClick={() => setGoing(s.id)}>
                {t("photo.away")}
              </Button>
            )}
          </span>
          {going === s.id && (
            <span className="part-form">
              <WordsField id="photo-why" label={t("photo.why")} value={why} say={says.why} onChange={setWhy} />
              <Button size="small" onClick={() => away.mutate({ params: { path: { id: s.id } }, body: { why } })}>
                {t("photo.away")}
              </Button>
            </span>
          )}
        </li>
      ))}
    </ul>
  );
}
