import { CategoryScale, Chart, Filler, Legend, LinearScale, LineElement, PointElement, Tooltip } from 'chart.js';
import { Line } from 'react-chartjs-2';

Chart.register(CategoryScale, LinearScale, LineElement, PointElement, Filler, Legend, Tooltip);
Chart.defaults.font.family = "'Barlow', sans-serif";
Chart.defaults.animation = false;
Chart.defaults.maintainAspectRatio = false;

export default Line;
