import { Tour as KitTour } from "antd";
import { useTranslation } from "react-i18next";

/** What is shown to whom, in order: where it is, and its words in the catalogue. */
const stepsOf = {
  technician: [
    { at: "#stops", say: "stops" },
    { at: "#go-on", say: "goOn" },
    { at: "#bar, #side nav", say: "bar" },
    { at: "#more", say: "more" },
  ],
  desk: [
    { at: "#company", say: "company" },
    { at: "#side nav, #bar", say: "places" },
    { at: "#find, #more", say: "find" },
  ],
} as const;

/** Shows somebody round the page that they stand on. */
export default function Tour({
  kind,
  open,
  onDone,
}: {
  kind: keyof typeof stepsOf;
  open: boolean;
  onDone: () => void;
}) {
  const { t } = useTranslation();
  return (
    <KitTour
      open={open}
      onClose={onDone}
      onFinish={onDone}
      steps={stepsOf[kind].map(({ at, say }) => ({
        title: t(`tour.${say}.title`),
        description: t(`tour.${say}.what`),
        target: () => document.querySelector<HTMLElement>(at) ?? document.body,
      }))}
    />
  );
}
